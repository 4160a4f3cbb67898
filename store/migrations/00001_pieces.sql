-- +goose Up
CREATE TABLE pieces (
    id         TEXT PRIMARY KEY,
    created_at INTEGER NOT NULL,
    updated_at INTEGER NOT NULL,
    deleted_at INTEGER,
    head       INTEGER NOT NULL
);
CREATE TABLE sheets (
    id         TEXT PRIMARY KEY,
    piece_id   TEXT NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    name       TEXT NOT NULL,
    data       BLOB NOT NULL,
    created_at INTEGER NOT NULL
);
CREATE INDEX sheets_by_piece ON sheets (piece_id);
CREATE TABLE states (
    piece_id   TEXT NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    seq        INTEGER NOT NULL,
    label      TEXT NOT NULL,
    doc        BLOB NOT NULL,
    created_at INTEGER NOT NULL,
    PRIMARY KEY (piece_id, seq)
);

-- +goose Down
DROP TABLE states;
DROP TABLE sheets;
DROP TABLE pieces;
