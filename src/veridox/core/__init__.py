"""Pure computing: no framework, no network, no clock, no environment."""
