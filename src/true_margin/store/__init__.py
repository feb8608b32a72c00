"""Tables, queries and migrations. ORM rows stay in here; records go out."""
