-- How files of one shape are read, as their owner said: by header, columns and units as JSON.
CREATE TABLE file_shape (
    header TEXT PRIMARY KEY,
    said TEXT NOT NULL CHECK (json_valid(said))
) STRICT;
