-- The newest forecast of each garden: its days as the program's own CSV, and who told it.
CREATE TABLE forecast (
    garden_id INTEGER PRIMARY KEY REFERENCES garden (id) ON DELETE CASCADE,
    told_by TEXT NOT NULL,
    days TEXT NOT NULL,
    told_at TEXT NOT NULL CHECK (told_at IS strftime('%Y-%m-%dT%H:%M', told_at))
) STRICT;
