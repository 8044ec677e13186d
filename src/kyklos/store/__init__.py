"""The household's records: models, queries, migrations; rows become core values here and nowhere else."""
