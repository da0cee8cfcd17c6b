"""Files of work: what kind each is, archives, and what is shown of documents and pictures."""
