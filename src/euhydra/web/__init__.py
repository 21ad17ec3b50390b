"""Pages: routes, templates, drawings and static files. Formats at the edge, computes nothing."""
