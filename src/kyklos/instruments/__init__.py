"""Stand-ins for instruments: a pH meter, a probe, a heater mat, a kitchen scale, each with a hidden truth that ages.

They behave as the real things do, their faults too, and speak to Kyklos by the device protocol alone; so a real device takes the place
of any of them unchanged. They know the core, for physics and brews, and nothing of the household.
"""
