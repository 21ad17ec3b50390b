"""Numbers turned into SVG coordinates and path texts."""
