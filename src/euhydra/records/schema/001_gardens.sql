CREATE TABLE garden (
    id INTEGER PRIMARY KEY,
    current_id INTEGER REFERENCES revision (id) DEFERRABLE INITIALLY DEFERRED,
    -- Newest revision that redo can lead to.
    tip_id INTEGER REFERENCES revision (id) DEFERRABLE INITIALLY DEFERRED,
    is_demo INTEGER NOT NULL DEFAULT 0 CHECK (is_demo IN (0, 1)),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now'))
) STRICT;

-- Never changed once written. Undo and redo only move garden.current_id.
CREATE TABLE revision (
    id INTEGER PRIMARY KEY,
    garden_id INTEGER NOT NULL REFERENCES garden (id) ON DELETE CASCADE,
    parent_id INTEGER REFERENCES revision (id) ON DELETE CASCADE,
    document TEXT NOT NULL CHECK (json_valid(document)),
    change TEXT NOT NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now'))
) STRICT;

CREATE INDEX revision_of_garden ON revision (garden_id);
