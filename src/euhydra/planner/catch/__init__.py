"""Catch: what roofs, taps and washing water bring, and who may have it."""
