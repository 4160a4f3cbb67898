package store

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"github.com/jmoiron/sqlx"
)

// databaseFile is the database within a data folder.
const databaseFile = "bildhauer.db"

// kept are the folders beside the database that belong to pieces: what was ordered, printed and
// raised in series.
var kept = []string{"results", "prints", "series"}

// Backup writes all that a data folder holds into one file (ZIP) at path, whole or not at all. The
// folder may be in use: the copy of the database is of one moment.
func Backup(ctx context.Context, dir, path string) (err error) {
	source := filepath.Join(dir, databaseFile)
	if _, err := os.Stat(source); err != nil {
		return fmt.Errorf("there is no data of Bildhauer in %s", dir)
	}
	if _, err := os.Stat(path); err == nil {
		return fmt.Errorf("%s is there already; name another file", path)
	}
	scratch, err := os.MkdirTemp(filepath.Dir(path), ".bildhauer-backup-")
	if err != nil {
		return fmt.Errorf("%s can't be written: %w", path, err)
	}
	defer os.RemoveAll(scratch)
	copied := filepath.Join(scratch, databaseFile)
	if err := copyDatabase(ctx, source, copied); err != nil {
		return err
	}
	whole := filepath.Join(scratch, "backup.zip")
	f, err := os.OpenFile(whole, os.O_CREATE|os.O_WRONLY|os.O_EXCL, 0o600)
	if err != nil {
		return err
	}
	z := zip.NewWriter(f)
	err = putFile(z, copied, databaseFile)
	for _, name := range kept {
		if err == nil {
			err = putTree(ctx, z, dir, name)
		}
	}
	if err = errors.Join(err, z.Close(), f.Sync(), f.Close()); err != nil {
		return fmt.Errorf("the copy can't be written: %w", plain(err))
	}
	return os.Rename(whole, path)
}

// copyDatabase writes a database as it is at one moment to another file.
func copyDatabase(ctx context.Context, from, to string) error {
	db, err := sqlx.Open("sqlite", address(from, "&mode=ro"))
	if err != nil {
		return err
	}
	defer db.Close()
	if _, err := db.ExecContext(ctx, "VACUUM INTO ?", to); err != nil {
		return fmt.Errorf("the database can't be copied: %w", plain(err))
	}
	return os.Chmod(to, 0o600)
}

func putFile(z *zip.Writer, path, name string) error {
	in, err := os.Open(path)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := z.Create(name)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return err
}

// putTree adds the files of a folder, without those that are being written or were deleted
// meanwhile.
func putTree(ctx context.Context, z *zip.Writer, dir, name string) error {
	return filepath.WalkDir(filepath.Join(dir, name), func(path string, d fs.DirEntry, err error) error {
		switch {
		case errors.Is(err, fs.ErrNotExist):
			return nil
		case err != nil:
			return err
		case ctx.Err() != nil:
			return ctx.Err()
		case !d.Type().IsRegular() || strings.HasPrefix(d.Name(), "."):
			return nil
		}
		rel, err := filepath.Rel(dir, path)
		if err != nil {
			return err
		}
		if err := putFile(z, path, filepath.ToSlash(rel)); !errors.Is(err, fs.ErrNotExist) {
			return err
		}
		return nil
	})
}

// Restore makes a data folder of a backup. The folder must not be there yet, or be empty; what
// is damaged in the backup leaves nothing behind.
func Restore(ctx context.Context, path, dir string) error {
	z, err := zip.OpenReader(path)
	if err != nil {
		return fmt.Errorf("%s is no backup of Bildhauer, or it is damaged", path)
	}
	defer z.Close()
	if list, err := os.ReadDir(dir); err == nil && len(list) > 0 {
		return fmt.Errorf("the folder %s is not empty. A backup is restored into a new one", dir)
	}
	made := filepath.Clean(dir) + ".restoring"
	if err := os.Mkdir(made, 0o700); err != nil {
		return fmt.Errorf("the folder %s can't be made: %w", made, err)
	}
	defer os.RemoveAll(made)
	found := false
	for _, f := range z.File {
		if !filepath.IsLocal(f.Name) || strings.HasSuffix(f.Name, "/") {
			return fmt.Errorf("%s is no backup of Bildhauer", path)
		}
		found = found || f.Name == databaseFile
		if err := takeFile(ctx, f, filepath.Join(made, filepath.FromSlash(f.Name))); err != nil {
			return fmt.Errorf("%s is damaged: %w", path, plain(err))
		}
	}
	if !found {
		return fmt.Errorf("%s is no backup of Bildhauer", path)
	}
	if err := soundFile(ctx, filepath.Join(made, databaseFile)); err != nil {
		return fmt.Errorf("%s is damaged: %w", path, err)
	}
	if err := os.Remove(dir); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	return os.Rename(made, dir)
}

func takeFile(ctx context.Context, f *zip.File, path string) error {
	if err := ctx.Err(); err != nil {
		return err
	}
	in, err := f.Open()
	if err != nil {
		return err
	}
	defer in.Close()
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		return err
	}
	out, err := os.OpenFile(path, os.O_CREATE|os.O_WRONLY|os.O_EXCL, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Sync(), out.Close())
}

// soundFile checks a database that nobody has open.
func soundFile(ctx context.Context, path string) error {
	db, err := sqlx.Open("sqlite", address(path, "&mode=ro"))
	if err != nil {
		return err
	}
	defer db.Close()
	return sound(ctx, db)
}

// sound looks for damage in a database: pages that are not what they should be, rows that miss
// their piece.
func sound(ctx context.Context, db *sqlx.DB) error {
	var say string
	if err := db.GetContext(ctx, &say, "PRAGMA quick_check(1)"); err != nil {
		return plain(err)
	}
	if say != "ok" {
		return fmt.Errorf("%w (%s)", ErrDamaged, say)
	}
	return nil
}
