package main

import (
	"context"
	"fmt"
	"io"

	"bildhauer/store"
)

// backup copies all that a data folder holds into one file, while the application may run.
func backup(ctx context.Context, args []string, stdout, stderr io.Writer) error {
	fs := newFlags("backup", stderr)
	data := fs.String("data", "", "")
	out := fs.String("o", "", "")
	if err := parseNone(fs, args, stderr); err != nil {
		return err
	}
	if *data == "" || *out == "" {
		return wrong(stderr, "backup needs --data DIR and -o FILE")
	}
	if err := store.Backup(ctx, *data, *out); err != nil {
		return err
	}
	fmt.Fprintf(stdout, "%s is a copy of all that is in %s\n", *out, *data)
	return nil
}

// restore makes a data folder of a backup.
func restore(ctx context.Context, args []string, stdout, stderr io.Writer) error {
	fs := newFlags("restore", stderr)
	data := fs.String("data", "", "")
	files, err := parseFiles(fs, args, stderr)
	if err != nil {
		return err
	}
	if *data == "" || len(files) != 1 {
		return wrong(stderr, "restore needs one FILE and --data DIR, a folder that is not there yet")
	}
	if err := store.Restore(ctx, files[0], *data); err != nil {
		return err
	}
	fmt.Fprintf(stdout, "%s is restored into %s\n", files[0], *data)
	return nil
}
