"""Need: what each bed and group of pots drinks, day by day and month by month."""
