"""The garden document: its model, its reference data, and quantities as people say them."""
