"""The long form of the proofs, outside the tests: `make soak`."""
