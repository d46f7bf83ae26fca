"""Everything that is drawn, as shapes with roles. Knows no page, no request and no file format but SVG."""
