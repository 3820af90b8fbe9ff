"""Acts on mails."""
