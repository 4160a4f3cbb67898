-- +goose Up
-- Fonts live beside artwork: both are files.
ALTER TABLE sheets RENAME TO files;
-- The last revision number that a piece has given; none is given twice.
ALTER TABLE pieces ADD COLUMN last_rev INTEGER NOT NULL DEFAULT 0;
ALTER TABLE states RENAME COLUMN seq TO rev;
UPDATE pieces SET last_rev = (SELECT COALESCE(MAX(rev), 0) FROM states WHERE piece_id = pieces.id);

-- +goose Down
ALTER TABLE states RENAME COLUMN rev TO seq;
ALTER TABLE pieces DROP COLUMN last_rev;
ALTER TABLE files RENAME TO sheets;
