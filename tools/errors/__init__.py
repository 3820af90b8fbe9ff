"""A made-up year of bills, with mistakes planted in it, for `bin/bench errors`."""
