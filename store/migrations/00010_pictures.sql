-- +goose Up
-- The little picture of each piece as it was saved last, so that the page of all pieces has it at once.
CREATE TABLE pictures (
    piece_id TEXT PRIMARY KEY REFERENCES pieces (id) ON DELETE CASCADE,
    rev      INTEGER NOT NULL,
    svg      BLOB NOT NULL
);

-- +goose Down
DROP TABLE pictures;
