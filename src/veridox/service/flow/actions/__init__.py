"""Acts of the flow. Computing is core's; these gather, store and apply in one transaction."""
