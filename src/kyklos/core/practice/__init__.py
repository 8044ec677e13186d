"""What is practised, apart from all records: cards for the eye, the strip, the burette, the palate and the clock; a season in fast time.

`boxes` says which card comes when; each deck poses a question of a seed and grades the answer by the very rules and models of the house.
"""
