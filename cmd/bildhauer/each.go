package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"runtime"
	"runtime/debug"
	"sync"

	"github.com/spf13/cobra"
	"golang.org/x/sync/semaphore"

	"bildhauer/core/read"
	"bildhauer/core/stages"
	"bildhauer/studio"
)

// job is one of the files of a command: its number, its path, and where it
// writes what it has to say.
type job struct {
	n      int
	path   string
	stdout io.Writer
	stderr io.Writer
}

// gate lets the work of all files in, by the memory that it needs.
var gate = sync.OnceValue(func() stages.Gated { return stages.Gated{Gate: stages.NewGate(studio.WorkBytes, studio.MostBytes())} })

// each runs f for every file, several at a time, and prints what they say in
// the order of the files. A failure is reported and does not stop the others.
func each(c *cobra.Command, files []string, f func(ctx context.Context, j job) error) error {
	ctx, stdout, stderr := c.Context(), c.OutOrStdout(), c.ErrOrStderr()
	type result struct {
		out, err bytes.Buffer
		failed   error
	}
	results := make([]chan *result, len(files))
	for i := range results {
		results[i] = make(chan *result, 1)
	}
	// Large files come one after the other: what they take adds up.
	room := semaphore.NewWeighted(largeFiles)
	cores := make(chan struct{}, runtime.GOMAXPROCS(0))
	go func() {
		for i, path := range files {
			r := &result{}
			weight := weightOf(path)
			if err := room.Acquire(ctx, weight); err != nil {
				r.failed = err
				results[i] <- r
				continue
			}
			cores <- struct{}{}
			go func() {
				defer func() {
					<-cores
					room.Release(weight)
				}()
				r.failed = guarded(ctx, job{i, path, &r.out, &r.err}, f)
				results[i] <- r
			}()
		}
	}()
	failed := false
	for i := range files {
		r := <-results[i]
		stdout.Write(r.out.Bytes())
		stderr.Write(r.err.Bytes())
		if r.failed != nil && ctx.Err() == nil {
			fmt.Fprintf(stderr, "bildhauer: %s\n", wordsFor(r.failed))
		}
		failed = failed || r.failed != nil
	}
	if ctx.Err() != nil {
		return ctx.Err()
	}
	if failed {
		return errSome
	}
	return nil
}

// guarded runs f for one file; a mistake of the program ends that file's work only.
func guarded(ctx context.Context, j job, f func(context.Context, job) error) (err error) {
	defer func() {
		if p := recover(); p != nil {
			err = &read.Refusal{
				Text: j.path + " hit a mistake in the program. Please keep the file and tell us about it",
				Bug:  fmt.Errorf("%v\n%s", p, debug.Stack()),
			}
		}
	}()
	return f(ctx, j)
}

// wordsFor returns what is said about a failure, with what a mistake of the
// program left behind.
func wordsFor(err error) string {
	var r *read.Refusal
	if errors.As(err, &r) && r.Bug != nil && os.Getenv("BILDHAUER_DEBUG") != "" {
		return fmt.Sprintf("%v\n%v", err, r.Bug)
	}
	return err.Error()
}

// largeFiles is how many bytes of files are worked on at a time. A byte of
// artwork takes some 60 to 100 bytes on its way to a mesh.
const largeFiles = 8 << 20

func weightOf(path string) int64 {
	st, err := os.Stat(path)
	if err != nil {
		return 0
	}
	return min(st.Size(), largeFiles)
}
