"""Who belongs to the house: accounts, invitations, roles, what ends, and the audit."""
