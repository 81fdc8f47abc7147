"""SQL and nothing else."""
