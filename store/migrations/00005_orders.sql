-- +goose Up
-- Pictures and clips that were ordered, with the decisions that they are made by. Their
-- files lie in the data folder under the id.
CREATE TABLE orders (
    id         TEXT PRIMARY KEY,
    piece_id   TEXT NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    spec       BLOB NOT NULL,
    doc        BLOB NOT NULL,
    state      TEXT NOT NULL,
    note       TEXT NOT NULL DEFAULT '',
    done       INTEGER NOT NULL DEFAULT 0,
    total      INTEGER NOT NULL,
    spent      INTEGER NOT NULL DEFAULT 0,
    created_at INTEGER NOT NULL
);
CREATE INDEX orders_by_piece ON orders (piece_id);

-- +goose Down
DROP TABLE orders;
