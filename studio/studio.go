// Package studio is the application without its pages: pieces and what is done
// to them, results that are kept, and work that runs.
package studio

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"bildhauer/core/artwork"
	"bildhauer/core/read"
	"bildhauer/core/stages"
	"bildhauer/store"
)

// Studio serves the pieces of one data folder.
type Studio struct {
	store   *store.Store
	flights *flights // results in memory
	files   *flights // results in files
	jobs    *jobs
	bus     *bus
	home    string // the data folder
	dir     string // of the results in files
	queue   *stages.Gate
	orders  *worker
	prints  *prints
	series  series
	reader  Reader
	diary   *Diary
	aside   aside
	besides sync.WaitGroup // what goes on beside the work
	ctx     context.Context
	stop    context.CancelFunc
}

// What the results of stages may hold, and what work may take beside them, in
// bytes. Together they keep the program near 1 GB.
const (
	keepBytes = 320 << 20
	WorkBytes = 640 << 20
	fileBytes = 2 << 30
)

// ForgetAfter is how long deleted pieces can be brought back.
const ForgetAfter = 30 * 24 * time.Hour

// New opens the studio on a data folder.
func New(dir string) (*Studio, error) {
	st, err := store.Open(dir)
	if err != nil {
		return nil, err
	}
	s := &Studio{store: st, jobs: newJobs(), bus: newBus(), orders: newWorker(), prints: newPrints(), home: dir, dir: filepath.Join(dir, "cache"), diary: openDiary(dir)}
	s.ctx, s.stop = context.WithCancel(context.Background())
	if err := st.Purge(s.ctx, ForgetAfter); err != nil {
		st.Close()
		return nil, err
	}
	// What an earlier run left belongs to nobody.
	if err := os.RemoveAll(s.dir); err == nil {
		err = os.MkdirAll(s.dir, 0o700)
	}
	if err != nil {
		st.Close()
		return nil, fmt.Errorf("the data folder can't be written: %w", err)
	}
	queue := stages.NewGate(WorkBytes, MostBytes())
	s.queue = queue
	s.flights = newFlights(s.ctx, queue, newCache(keepBytes, nil))
	s.files = newFlights(s.ctx, queue, newCache(fileBytes, func(v any) { os.Remove(v.(*result).path) }))
	go s.work()
	s.besides.Go(s.restNow)
	return s, nil
}

// Reader reads the files that people bring: in a process of its own, say, that a file may end.
type Reader interface {
	Sheet(ctx context.Context, name string, data []byte, o read.Options) (*artwork.Sheet, error)
	Font(ctx context.Context, data []byte) error
}

// UseReader has files read by r from now on, instead of within this process. Call it before the
// studio is used.
func (s *Studio) UseReader(r Reader) { s.reader = r }

// Diary is where what goes wrong inside is written down.
func (s *Studio) Diary() *Diary { return s.diary }

// copyPace is how often it is looked whether a copy is due.
const copyPace = 6 * time.Hour

// KeepCopies keeps a copy of all that the data folder holds once a week, in the folder itself.
func (s *Studio) KeepCopies() {
	s.besides.Go(func() {
		for {
			if _, err := store.KeepCopy(s.ctx, s.home, time.Now()); err != nil && s.ctx.Err() == nil {
				s.diary.Write("keeping the weekly copy", err)
			}
			select {
			case <-s.ctx.Done():
				return
			case <-time.After(copyPace):
			}
		}
	})
}

// Close ends all work and closes the data folder.
func (s *Studio) Close() error {
	s.stop()
	s.besides.Wait()
	s.bus.close()
	<-s.orders.done
	s.prints.mu.Lock() // nobody begins to follow a print any more
	s.prints.mu.Unlock()
	s.prints.wg.Wait()
	s.series.mu.Lock()
	s.series.mu.Unlock()
	s.series.wg.Wait()
	s.flights.wait()
	s.files.wait()
	return s.store.Close()
}

// EndWindows ends all windows, as before a shutdown.
func (s *Studio) EndWindows() { s.bus.close() }

func newID() string {
	var b [8]byte
	rand.Read(b[:]) // never fails on supported systems
	return hex.EncodeToString(b[:])
}

// ErrInput marks what the person at the screen can put right. Its text is a
// sentence.
type ErrInput struct{ Text string }

func (e *ErrInput) Error() string { return e.Text }

func input(format string, args ...any) error {
	return &ErrInput{sentence(fmt.Sprintf(format, args...))}
}

// ErrStale is the refusal of a change that does not fit what was done
// meanwhile, in another window say.
type ErrStale struct{ Text string }

func (e *ErrStale) Error() string { return e.Text }

func sentence(s string) string {
	if s == "" {
		return s
	}
	s = strings.ToUpper(s[:1]) + s[1:]
	if !strings.HasSuffix(s, ".") {
		s += "."
	}
	return s
}
