-- +goose Up
-- What a file is for: artwork, or a font that was added to the piece.
ALTER TABLE sheets ADD COLUMN kind TEXT NOT NULL DEFAULT 'artwork';

-- +goose Down
ALTER TABLE sheets DROP COLUMN kind;
