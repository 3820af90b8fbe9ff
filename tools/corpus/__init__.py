"""Made-up invoices with exact truth: drawn, printed and pictured, repeatable by seed."""
