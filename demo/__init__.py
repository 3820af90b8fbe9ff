"""The Merrowmere Aquarium scenario: invented companies, orders, invoices and mails."""
