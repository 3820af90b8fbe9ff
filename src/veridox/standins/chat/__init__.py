"""A chat system: takes messages by webhook and shows them."""
