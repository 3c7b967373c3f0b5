"""Papers handed to people outside: chosen by whom they concern, by mail or by a link that ends, on record."""
