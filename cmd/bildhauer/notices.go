package main

import (
	"context"
	"io"

	"bildhauer/notices"
)

// writeNotices prints what of others is in the program, with the licences.
func writeNotices(_ context.Context, args []string, stdout, stderr io.Writer) error {
	if err := parseNone(newFlags("notices", stderr), args, stderr); err != nil {
		return err
	}
	list, err := notices.Read()
	if err != nil {
		return err
	}
	return list.Write(stdout)
}
