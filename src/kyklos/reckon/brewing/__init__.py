"""What the records tell for a brew day and of one brew: what there is to plan with, and how it went."""
