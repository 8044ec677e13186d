"""The notebook, from the records: lessons that happened and those that apply here, and a season looked back on."""
