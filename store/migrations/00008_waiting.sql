-- +goose Up
-- Versions that were taken away and recipes that were replaced or dropped wait for a while, as
-- pieces do.
ALTER TABLE versions ADD COLUMN deleted_at INTEGER;
CREATE TABLE kept_recipes (
    id         TEXT PRIMARY KEY,
    name       TEXT NOT NULL,
    doc        BLOB NOT NULL,
    created_at INTEGER NOT NULL,
    deleted_at INTEGER
);
INSERT INTO kept_recipes SELECT lower(hex(randomblob(8))), name, doc, created_at, NULL FROM recipes;
DROP TABLE recipes;
ALTER TABLE kept_recipes RENAME TO recipes;
CREATE UNIQUE INDEX recipes_by_name ON recipes (name) WHERE deleted_at IS NULL;
-- Files raised many at once, by one recipe. What comes in and out lies in the data folder.
CREATE TABLE series (
    id         TEXT PRIMARY KEY,
    name       TEXT NOT NULL,
    format     TEXT NOT NULL,
    doc        BLOB NOT NULL,
    created_at INTEGER NOT NULL,
    taken_at   INTEGER
);
CREATE TABLE series_files (
    series_id  TEXT NOT NULL REFERENCES series (id) ON DELETE CASCADE,
    n          INTEGER NOT NULL,
    name       TEXT NOT NULL,
    made       TEXT NOT NULL,
    state      TEXT NOT NULL,
    note       TEXT NOT NULL DEFAULT '',
    bytes      INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (series_id, n)
);

-- +goose Down
DROP TABLE series_files;
DROP TABLE series;
CREATE TABLE old_recipes (name TEXT PRIMARY KEY, doc BLOB NOT NULL, created_at INTEGER NOT NULL);
INSERT INTO old_recipes SELECT name, doc, created_at FROM recipes WHERE deleted_at IS NULL;
DROP TABLE recipes;
ALTER TABLE old_recipes RENAME TO recipes;
DELETE FROM versions WHERE deleted_at IS NOT NULL;
ALTER TABLE versions DROP COLUMN deleted_at;
