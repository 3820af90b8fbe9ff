"""Teaching the network that tags words: pages made by the grammar, on two processors, by seed."""
