"""Practice visitors: made-up people who visit a real host over HTTP, and the ledger of what they
did."""
