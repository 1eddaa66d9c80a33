"""The method. Pure: no web, store, files, clocks, or randomness that is not passed in."""
