"""Lay: what each plant gets from the lines as drawn, and lines and zones proposed."""
