"""The desk: where people put right what stopped."""
