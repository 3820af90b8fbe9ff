"""A small finance system: vendors, orders, bills with attachments, an HTTP interface, screens."""
