"""Time: what the owner's timer is set to, month by month, and what runs when."""
