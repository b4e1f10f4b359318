"""What runs on the shop's machine: the local database server, supervision, backups."""
