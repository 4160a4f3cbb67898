-- +goose Up
-- Recipes that were kept by a name, for any piece.
CREATE TABLE recipes (
    name       TEXT PRIMARY KEY,
    doc        BLOB NOT NULL,
    created_at INTEGER NOT NULL
);

-- +goose Down
DROP TABLE recipes;
