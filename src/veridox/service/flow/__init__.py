"""The flow: gathers what is known of a document, has the road computed, and does what it says."""
