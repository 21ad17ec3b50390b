-- What the gardener saw and did. `sent_id` is given by the device that made the entry, so that one
-- that is sent twice is kept once. Times are the garden's own, as on the gardener's watch.
CREATE TABLE log_entry (
    id INTEGER PRIMARY KEY,
    garden_id INTEGER NOT NULL REFERENCES garden (id) ON DELETE CASCADE,
    sent_id TEXT NOT NULL,
    kind TEXT NOT NULL,
    at TEXT NOT NULL CHECK (at IS strftime('%Y-%m-%dT%H:%M', at)),
    -- The part of the garden that it is about; it may be gone by now.
    part_id TEXT,
    -- Numbers in SI, as many as the kind has.
    amounts TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(amounts)),
    word TEXT NOT NULL DEFAULT '',
    note TEXT NOT NULL DEFAULT '',
    photo TEXT,
    is_removed INTEGER NOT NULL DEFAULT 0 CHECK (is_removed IN (0, 1)),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now')),
    UNIQUE (garden_id, sent_id)
) STRICT;

CREATE INDEX log_by_time ON log_entry (garden_id, is_removed, at DESC, id DESC);

CREATE INDEX log_by_kind ON log_entry (garden_id, kind, is_removed, at);

-- An entry as it was before each change.
CREATE TABLE log_change (
    id INTEGER PRIMARY KEY,
    entry_id INTEGER NOT NULL REFERENCES log_entry (id) ON DELETE CASCADE,
    was TEXT NOT NULL CHECK (json_valid(was)),
    changed_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now'))
) STRICT;

CREATE INDEX log_change_of_entry ON log_change (entry_id);
