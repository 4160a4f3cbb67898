package store

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
)

// A file stays as long as anything names it: a text of any row, in any table, that belongs to the
// file's piece or to no piece, but for the row's own id. Which tables and columns these are is read
// off the database itself, so that a table of tomorrow cannot be forgotten; ids are 64 random bits,
// so that nothing names one by chance. Documents of before there were several sheets name none;
// they keep all files of their piece.
//
// named returns that rule as a condition on a row of the table files.
func named(db sqlx.Queryer) (string, error) {
	var columns []struct{ Tab, Col, Kind string }
	err := sqlx.Select(db, &columns, `SELECT m.name AS tab, c.name AS col, upper(c.type) AS kind
		FROM sqlite_master AS m, pragma_table_info(m.name) AS c
		WHERE m.type = 'table' AND m.name NOT LIKE 'sqlite_%' AND m.name NOT IN ('files', 'goose_db_version')
		ORDER BY m.name, c.cid`)
	if err != nil {
		return "", err
	}
	of := map[string][]string{} // what names a file, by table
	owned := map[string]bool{}  // tables whose rows belong to a piece
	var tables []string
	for _, c := range columns {
		if !slices.Contains(tables, c.Tab) {
			tables = append(tables, c.Tab)
		}
		switch {
		case c.Col == "piece_id":
			owned[c.Tab] = true
		case c.Col != "id" && c.Kind != "INTEGER" && c.Kind != "REAL":
			of[c.Tab] = append(of[c.Tab], fmt.Sprintf(`instr(t.%q, files.id) > 0`, c.Col))
		}
	}
	// What belongs to the piece is looked at first: it is found by an index and names most files.
	var mine, others []string
	for _, t := range tables {
		say := of[t]
		if len(say) == 0 {
			continue
		}
		if !owned[t] {
			others = append(others, fmt.Sprintf(`EXISTS (SELECT 1 FROM %q AS t WHERE %s)`, t, strings.Join(say, " OR ")))
			continue
		}
		if slices.Contains(say, `instr(t."doc", files.id) > 0`) {
			say = append(say, `instr(t.doc, '"sheets":[') = 0 AND instr(t.doc, '"sheets":{"list":[') = 0`)
		}
		mine = append(mine, fmt.Sprintf(`EXISTS (SELECT 1 FROM %q AS t WHERE t.piece_id = files.piece_id AND (%s))`,
			t, strings.Join(say, " OR ")))
	}
	return "(" + strings.Join(append(mine, others...), "\n OR ") + ")", nil
}

// DropFile removes a file that nothing names.
func (s *Store) DropFile(ctx context.Context, piece, id string) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		rule, err := named(tx)
		if err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `DELETE FROM files WHERE piece_id = ? AND id = ? AND NOT `+rule, piece, id)
		return err
	})
}

// unnamedAge is how old a file is that goes because nothing names it: a changed file waits so long
// to be accepted.
const unnamedAge = 24 * time.Hour

// Purge removes for good what was deleted longer than age ago, and files a day old that nothing
// names, such as changed files that were neither accepted nor declined.
func (s *Store) Purge(ctx context.Context, age time.Duration) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		for _, table := range []string{"pieces", "versions", "recipes"} {
			if _, err := tx.ExecContext(ctx, `DELETE FROM `+table+` WHERE deleted_at < ?`, now()-age.Milliseconds()); err != nil {
				return err
			}
		}
		rule, err := named(tx)
		if err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `DELETE FROM files WHERE created_at < ? AND NOT `+rule, now()-unnamedAge.Milliseconds())
		return err
	})
}
