-- What the owner pays, by key of a good; the same for every garden.
CREATE TABLE price (
    good TEXT PRIMARY KEY,
    pack REAL NOT NULL CHECK (pack > 0),
    price REAL NOT NULL CHECK (price >= 0),
    changed_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now'))
) STRICT, WITHOUT ROWID;

-- What is ticked off: goods that are there already, steps that are done.
CREATE TABLE tick (
    garden_id INTEGER NOT NULL REFERENCES garden (id) ON DELETE CASCADE,
    list TEXT NOT NULL CHECK (list IN ('there', 'step')),
    item TEXT NOT NULL,
    ticked_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now')),
    PRIMARY KEY (garden_id, list, item)
) STRICT, WITHOUT ROWID;
