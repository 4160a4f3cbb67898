// Package store keeps pieces, their files and their history in SQLite.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"github.com/gofrs/flock"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"golang.org/x/sync/semaphore"
	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNotFound is returned for pieces that do not exist.
var ErrNotFound = errors.New("there is no such piece")

// ErrFull is returned when the disk has no room for a change; nothing of it
// was kept.
var ErrFull = errors.New("the disk is full")

// ErrReadOnly is returned when the data folder can't be written.
var ErrReadOnly = errors.New("the data folder can't be written")

// ErrDamaged is returned when the database is not what was written.
var ErrDamaged = errors.New("the database is damaged")

// Store is the database of one data folder. It holds that folder for itself:
// a second program that opens it is refused.
type Store struct {
	db     *sqlx.DB
	lock   *flock.Flock
	writes *semaphore.Weighted // of one: who writes, in the order of coming
}

// Open opens or makes the database in dir. What it makes can be read by its
// owner alone.
func Open(dir string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("the data folder can't be made: %w", err)
	}
	lock, err := hold(dir)
	if err != nil {
		return nil, err
	}
	db, err := openDatabase(filepath.Join(dir, databaseFile))
	if err != nil {
		lock.Unlock()
		if errors.Is(err, ErrDamaged) {
			return nil, fmt.Errorf("%w in %s; nothing was changed. Restore a copy into a new folder: "+
				"bildhauer restore %s --data NEW", err, dir, newestCopy(dir))
		}
		return nil, fmt.Errorf("the database in %s can't be opened: %w", dir, err)
	}
	return &Store{db, lock, semaphore.NewWeighted(1)}, nil
}

// hold takes the data folder for this process and writes down who has it.
func hold(dir string) (*flock.Flock, error) {
	path := filepath.Join(dir, "bildhauer.lock")
	if err := private(path); err != nil {
		if errors.Is(err, fs.ErrPermission) || errors.Is(err, syscall.EROFS) {
			return nil, fmt.Errorf("the data folder %s can't be written: %w. Give Bildhauer the right to write there", dir, err)
		}
		return nil, fmt.Errorf("the data folder %s can't be used: %w", dir, err)
	}
	lock := flock.New(path)
	ok, err := lock.TryLock()
	if err != nil {
		return nil, fmt.Errorf("the data folder %s can't be locked: %w", dir, err)
	}
	if !ok {
		holder, _ := os.ReadFile(path)
		who := strings.TrimSpace(string(holder))
		if who == "" {
			who = "another program"
		}
		return nil, fmt.Errorf(
			"the data folder %s is in use by %s. End that one first, or choose another folder",
			dir,
			who,
		)
	}
	host, _ := os.Hostname()
	who := fmt.Sprintf(
		"process %d on %s, since %s\n",
		os.Getpid(),
		host,
		time.Now().Format("2006-01-02 15:04"),
	)
	if err := os.WriteFile(path, []byte(who), 0o600); err != nil {
		lock.Unlock()
		return nil, fmt.Errorf("the data folder %s can't be written: %w", dir, err)
	}
	return lock, nil
}

// private makes a file that only its owner can read, or makes it so.
func private(path string) error {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return err
	}
	if err := f.Close(); err != nil {
		return err
	}
	return os.Chmod(path, 0o600)
}

func openDatabase(path string) (*sqlx.DB, error) {
	// SQLite gives its helper files the mode of the database.
	for _, p := range []string{path, path + "-wal", path + "-shm"} {
		if _, err := os.Stat(p); err == nil || p == path {
			if err := private(p); err != nil {
				return nil, err
			}
		}
	}
	db, err := sqlx.Open("sqlite", address(path, "&_pragma=journal_mode(WAL)&_pragma=foreign_keys(1)&_pragma=synchronous(FULL)&_txlock=immediate"))
	if err != nil {
		return nil, err
	}
	if err = sound(context.Background(), db); err == nil {
		err = migrate(db)
	}
	if err != nil {
		db.Close()
		return nil, plain(err)
	}
	return db, nil
}

// address is how a database is opened. What is confirmed is on the disk (synchronous FULL): a
// power cut takes nothing.
func address(path, more string) string {
	a := url.URL{Scheme: "file", Opaque: (&url.URL{Path: filepath.ToSlash(path)}).EscapedPath()}
	a.RawQuery = "_pragma=busy_timeout(5000)" + more
	return a.String()
}

// migrate brings the tables up to date. It refuses those of a newer program.
func migrate(db *sqlx.DB) error {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	p, err := goose.NewProvider(goose.DialectSQLite3, db.DB, sub)
	if err != nil {
		return err
	}
	ctx := context.Background()
	have, err := p.GetDBVersion(ctx)
	if err != nil {
		return err
	}
	sources := p.ListSources()
	if last := sources[len(sources)-1].Version; have > last {
		return fmt.Errorf(
			"it was written by a newer Bildhauer (version %d, this one knows %d). Open it with that one",
			have,
			last,
		)
	}
	_, err = p.Up(ctx)
	return err
}

// Close closes the database and gives the folder free.
func (s *Store) Close() error {
	err := s.db.Close()
	return errors.Join(err, s.lock.Unlock())
}

func now() int64 { return time.Now().UnixMilli() }

// turn waits until nobody else writes. SQLite itself lets one write at a time, but those that wait try
// again now and then: of many, some would never come to it.
func (s *Store) turn(ctx context.Context) (free func(), err error) {
	if err := s.writes.Acquire(ctx, 1); err != nil {
		return nil, err
	}
	return func() { s.writes.Release(1) }, nil
}

// exec writes by one statement.
func (s *Store) exec(ctx context.Context, query string, args ...any) (sql.Result, error) {
	free, err := s.turn(ctx)
	if err != nil {
		return nil, err
	}
	defer free()
	return s.db.ExecContext(ctx, query, args...)
}

// execNamed writes by one statement, the values of which are fields of arg.
func (s *Store) execNamed(ctx context.Context, query string, arg any) (sql.Result, error) {
	free, err := s.turn(ctx)
	if err != nil {
		return nil, err
	}
	defer free()
	return s.db.NamedExecContext(ctx, query, arg)
}

// tx runs f in a transaction.
func (s *Store) tx(ctx context.Context, f func(*sqlx.Tx) error) error {
	free, err := s.turn(ctx)
	if err != nil {
		return err
	}
	defer free()
	tx, err := s.db.BeginTxx(ctx, nil)
	if err != nil {
		return plain(err)
	}
	defer tx.Rollback()
	if err := f(tx); err != nil {
		return plain(err)
	}
	return plain(tx.Commit())
}

// plain gives the faults that people can do something about their own error.
func plain(err error) error {
	var e *sqlite.Error
	if !errors.As(err, &e) {
		if errors.Is(err, syscall.ENOSPC) {
			return fmt.Errorf("%w: %w", ErrFull, err)
		}
		return err
	}
	switch e.Code() & 0xff {
	case sqlite3.SQLITE_FULL:
		return ErrFull
	case sqlite3.SQLITE_READONLY, sqlite3.SQLITE_CANTOPEN:
		return fmt.Errorf("%w: %w", ErrReadOnly, err)
	case sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB:
		return fmt.Errorf("%w: %w", ErrDamaged, err)
	}
	return err
}
