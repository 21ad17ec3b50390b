-- Weather records of a garden; one of them is in use. `origin` says where its days come from.
CREATE TABLE weather_record (
    id INTEGER PRIMARY KEY,
    garden_id INTEGER NOT NULL REFERENCES garden (id) ON DELETE CASCADE,
    origin TEXT NOT NULL CHECK (origin IN ('file', 'normals', 'joined', 'generated')),
    name TEXT NOT NULL,
    -- Twelve months as they were typed, where origin is 'normals'.
    normals TEXT CHECK (normals IS NULL OR json_valid(normals)),
    notes TEXT NOT NULL DEFAULT '',
    -- Spans of days that no record had, as [first, last] pairs.
    made_up TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(made_up)),
    in_use INTEGER NOT NULL CHECK (in_use IN (0, 1)),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now'))
) STRICT;

CREATE UNIQUE INDEX weather_in_use ON weather_record (garden_id) WHERE in_use = 1;

CREATE TABLE weather_day (
    record_id INTEGER NOT NULL REFERENCES weather_record (id) ON DELETE CASCADE,
    day TEXT NOT NULL CHECK (day IS date(day)),
    precip_mm REAL NOT NULL CHECK (precip_mm >= 0),
    tmin_c REAL NOT NULL,
    tmax_c REAL NOT NULL CHECK (tmax_c >= tmin_c),
    et0_mm REAL CHECK (et0_mm >= 0),
    rhmin_pct REAL CHECK (rhmin_pct BETWEEN 0 AND 100),
    rhmax_pct REAL CHECK (rhmax_pct BETWEEN 0 AND 100),
    wind_m_s REAL CHECK (wind_m_s >= 0),
    solar_mj_m2 REAL CHECK (solar_mj_m2 >= 0),
    PRIMARY KEY (record_id, day)
) STRICT, WITHOUT ROWID;

-- A file that waits for an answer about its units or gaps; one a garden.
CREATE TABLE upload (
    id INTEGER PRIMARY KEY,
    garden_id INTEGER NOT NULL REFERENCES garden (id) ON DELETE CASCADE,
    name TEXT NOT NULL,
    text TEXT NOT NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now'))
) STRICT;
