package store

import (
	"context"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// copies is the folder of the copies that are kept by themselves: one a week, of the last four
// weeks.
const (
	copies     = "copies"
	copyEvery  = 7 * 24 * time.Hour
	mostCopies = 4
)

// copyNames returns the copies in a data folder, oldest first: their names tell the day.
func copyNames(dir string) []string {
	list, _ := os.ReadDir(filepath.Join(dir, copies))
	var out []string
	for _, e := range list {
		if strings.HasPrefix(e.Name(), "bildhauer-") && strings.HasSuffix(e.Name(), ".zip") {
			out = append(out, e.Name())
		}
	}
	slices.Sort(out)
	return out
}

func newestCopy(dir string) string {
	if names := copyNames(dir); len(names) > 0 {
		return filepath.Join(dir, copies, names[len(names)-1])
	}
	return "COPY"
}

// KeepCopy makes a copy of all that the data folder holds if the newest one is a week old, and
// drops those before the last four. It reports whether it made one.
func KeepCopy(ctx context.Context, dir string, now time.Time) (bool, error) {
	names := copyNames(dir)
	if n := len(names); n > 0 {
		at, err := time.ParseInLocation("bildhauer-2006-01-02.zip", names[n-1], now.Location())
		if err == nil && now.Sub(at) < copyEvery {
			return false, nil
		}
	}
	if err := os.MkdirAll(filepath.Join(dir, copies), 0o700); err != nil {
		return false, err
	}
	name := now.Format("bildhauer-2006-01-02.zip")
	if err := Backup(ctx, dir, filepath.Join(dir, copies, name)); err != nil {
		return false, err
	}
	names = append(names, name)
	for _, old := range names[:max(0, len(names)-mostCopies)] {
		os.Remove(filepath.Join(dir, copies, old))
	}
	return true, nil
}
