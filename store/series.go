package store

import (
	"context"
	"database/sql"

	"github.com/jmoiron/sqlx"
)

// Series is many files that are raised by one recipe.
type Series struct {
	ID        string        `db:"id"`
	Name      string        `db:"name"` // of the recipe
	Format    string        `db:"format"`
	Doc       []byte        `db:"doc"` // the decisions
	CreatedAt int64         `db:"created_at"`
	TakenAt   sql.NullInt64 `db:"taken_at"` // when its results were fetched
	Files     []SeriesFile  `db:"-"`
}

// SeriesFile is one file of a series.
type SeriesFile struct {
	SeriesID string `db:"series_id"`
	N        int    `db:"n"`
	Name     string `db:"name"` // of the artwork
	Made     string `db:"made"` // the name of what comes out
	State    string `db:"state"`
	Note     string `db:"note"`
	Bytes    int64  `db:"bytes"`
}

// AddSeries keeps a new series with its files.
func (s *Store) AddSeries(ctx context.Context, x Series) error {
	if x.CreatedAt == 0 {
		x.CreatedAt = now()
	}
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.NamedExec(`INSERT INTO series (id, name, format, doc, created_at) VALUES (:id, :name, :format, :doc, :created_at)`, x)
		if err != nil {
			return err
		}
		for _, f := range x.Files {
			_, err := tx.NamedExec(`INSERT INTO series_files (series_id, n, name, made, state, note, bytes)
				VALUES (:series_id, :n, :name, :made, :state, :note, :bytes)`, f)
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// SetSeriesFile keeps how far a file is.
func (s *Store) SetSeriesFile(ctx context.Context, f SeriesFile) error {
	_, err := s.execNamed(ctx,
		`UPDATE series_files SET state = :state, note = :note, bytes = :bytes WHERE series_id = :series_id AND n = :n`, f)
	return plain(err)
}

// Series returns all series with their files, the oldest first.
func (s *Store) Series(ctx context.Context) (list []Series, err error) {
	if err = s.db.SelectContext(ctx, &list, `SELECT * FROM series ORDER BY created_at, rowid`); err != nil {
		return nil, plain(err)
	}
	for i := range list {
		err := s.db.SelectContext(ctx, &list[i].Files, `SELECT * FROM series_files WHERE series_id = ? ORDER BY n`, list[i].ID)
		if err != nil {
			return nil, plain(err)
		}
	}
	return list, nil
}

// TakeSeries keeps that the results were fetched just now.
func (s *Store) TakeSeries(ctx context.Context, id string) error {
	_, err := s.exec(ctx, `UPDATE series SET taken_at = ? WHERE id = ?`, now(), id)
	return plain(err)
}

// DropSeries forgets a series.
func (s *Store) DropSeries(ctx context.Context, id string) error {
	_, err := s.exec(ctx, `DELETE FROM series WHERE id = ?`, id)
	return plain(err)
}
