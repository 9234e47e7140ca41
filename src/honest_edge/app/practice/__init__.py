"""Practice: small stories with something wrong, cut on the simulated bench until a sheet is good."""
