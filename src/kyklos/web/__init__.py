"""The pages: one package per place in the house."""
