-- +goose Up
-- Prints that were sent to a printer. Their print files lie in the data folder under the id
-- until they have ended.
CREATE TABLE prints (
    id         TEXT PRIMARY KEY,
    piece_id   TEXT NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    name       TEXT NOT NULL,
    state      TEXT NOT NULL,
    wish       TEXT NOT NULL DEFAULT '',
    note       TEXT NOT NULL DEFAULT '',
    boot       TEXT NOT NULL DEFAULT '',
    layer      INTEGER NOT NULL DEFAULT 0,
    layers     INTEGER NOT NULL,
    share      REAL NOT NULL DEFAULT 0,
    remaining  REAL NOT NULL DEFAULT 0,
    created_at INTEGER NOT NULL
);
CREATE INDEX prints_by_piece ON prints (piece_id);

-- +goose Down
DROP TABLE prints;
