package main

import (
	"flag"
	"fmt"
	"io"
	"math"

	"bildhauer/core/units"
)

// newFlags returns the flags of a command; it prints our own usage.
func newFlags(name string, stderr io.Writer) *flag.FlagSet {
	fs := flag.NewFlagSet(name, flag.ContinueOnError)
	fs.SetOutput(stderr)
	fs.Usage = func() { fmt.Fprint(stderr, help()) }
	return fs
}

// parseFiles parses args that mix files and flags and returns the files.
func parseFiles(fs *flag.FlagSet, args []string, stderr io.Writer) ([]string, error) {
	return parseFilesOr(fs, args, stderr, nil)
}

// parseFilesOr is parseFiles, with no file needed where none says so after flags are known.
func parseFilesOr(fs *flag.FlagSet, args []string, stderr io.Writer, none func() bool) ([]string, error) {
	var files []string
	for {
		if err := fs.Parse(args); err != nil {
			return nil, errUsage
		}
		args = fs.Args()
		if len(args) == 0 {
			break
		}
		files = append(files, args[0])
		args = args[1:]
	}
	if len(files) == 0 && (none == nil || !none()) {
		return nil, wrong(stderr, "%s: no file given", fs.Name())
	}
	return files, nil
}

// parseNone parses args that hold no file.
func parseNone(fs *flag.FlagSet, args []string, stderr io.Writer) error {
	if err := fs.Parse(args); err != nil {
		return errUsage
	}
	if fs.NArg() > 0 {
		return wrong(stderr, "%s takes no file (%s)", fs.Name(), fs.Arg(0))
	}
	return nil
}

// wrong reports wrong usage.
func wrong(stderr io.Writer, format string, args ...any) error {
	fmt.Fprintf(stderr, "bildhauer: "+format+"\n", args...)
	return errUsage
}

// given reports whether a flag was set.
func given(fs *flag.FlagSet, name string) bool {
	found := false
	fs.Visit(func(f *flag.Flag) { found = found || f.Name == name })
	return found
}

// lengthFlag adds a flag that takes a length and hands it to set in mm.
func lengthFlag(fs *flag.FlagSet, name string, set func(mm float64)) {
	fs.Func(name, "", func(v string) error {
		mm, err := units.ParseLength(v, "mm")
		if err == nil {
			set(mm)
		}
		return err
	})
}

// round4 keeps what is worth reading of a length in mm.
func round4(v float64) float64 {
	if math.IsInf(v, 0) || math.IsNaN(v) {
		return 0
	}
	return units.Round(v, 4)
}
