"""What keeps the house: jobs whose workers died, what is of no use any more, the trail's head."""
