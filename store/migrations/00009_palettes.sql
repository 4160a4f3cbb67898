-- +goose Up
-- Palettes are kept by name as recipes are.
ALTER TABLE recipes ADD COLUMN kind TEXT NOT NULL DEFAULT 'recipe';
DROP INDEX recipes_by_name;
CREATE UNIQUE INDEX recipes_by_name ON recipes (kind, name) WHERE deleted_at IS NULL;

-- +goose Down
DELETE FROM recipes WHERE kind <> 'recipe';
DROP INDEX recipes_by_name;
CREATE UNIQUE INDEX recipes_by_name ON recipes (name) WHERE deleted_at IS NULL;
ALTER TABLE recipes DROP COLUMN kind;
