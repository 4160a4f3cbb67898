-- +goose Up
-- States of a piece that are kept under a name, whatever becomes of its history.
CREATE TABLE versions (
    id         TEXT PRIMARY KEY,
    piece_id   TEXT NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    name       TEXT NOT NULL,
    doc        BLOB NOT NULL,
    created_at INTEGER NOT NULL
);
CREATE INDEX versions_by_piece ON versions (piece_id);

-- +goose Down
DROP TABLE versions;
