"""SMTP in, mail server's delivery (LMTP) out: what a company's mail gateway does."""
