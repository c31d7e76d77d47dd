"""Files in and out: table import and export, tracked tables, archives, checks and repair of damaged games."""
