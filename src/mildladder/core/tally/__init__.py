"""What a case counts as, and which fault came back: pure, on plain values, for whatever engine adds up."""
