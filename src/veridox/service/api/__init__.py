"""REST views, one module for each thing that people speak of: thin. Only `urls` imports them."""
