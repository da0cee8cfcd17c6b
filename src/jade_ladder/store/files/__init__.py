"""Files: their content beside the database, and what the database knows of them."""
