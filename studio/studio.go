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
	still   bool // what an earlier run left stays as it is
	diary   *Diary
	aside   aside
	thumbs  thumbs
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

// New opens the studio on a data folder and goes on with what an earlier run left. Files are read
// within this process, unless use says otherwise.
func New(dir string, use ...func(*Studio)) (*Studio, error) {
	st, err := store.Open(dir)
	if err != nil {
		return nil, err
	}
	s := &Studio{store: st, jobs: newJobs(), bus: newBus(), orders: newWorker(), prints: newPrints(), home: dir, dir: filepath.Join(dir, "cache"), diary: openDiary(dir)}
	s.ctx, s.stop = context.WithCancel(context.Background())
	for _, f := range use {
		f(s)
	}
	if err := s.begin(); err != nil {
		s.stop()
		s.besides.Wait()
		s.series.wg.Wait()
		st.Close()
		return nil, err
	}
	if s.still {
		close(s.orders.done)
	} else {
		go s.work()
	}
	s.besides.Go(s.restNow)
	return s, nil
}

// begin cleans up after an earlier run and goes on with what it left.
func (s *Studio) begin() error {
	// What an earlier run left in the cache belongs to nobody.
	err := os.RemoveAll(s.dir)
	if err == nil {
		err = os.MkdirAll(s.dir, 0o700)
	}
	if err != nil {
		return fmt.Errorf("the data folder can't be written: %w", err)
	}
	s.queue = stages.NewGate(WorkBytes, MostBytes())
	s.flights = newFlights(s.ctx, s.queue, newCache(keepBytes, nil))
	s.files = newFlights(s.ctx, s.queue, newCache(fileBytes, func(v any) { os.Remove(v.(*result).path) }))
	if err := s.purge(); err != nil || s.still {
		return err
	}
	return s.resumeSeries()
}

// Reader reads the files that people bring: in a process of its own, say, that a file may end.
type Reader interface {
	Sheet(ctx context.Context, name string, data []byte, o read.Options) (*artwork.Sheet, error)
	Font(ctx context.Context, data []byte) error
}

// Still has nothing gone on with that an earlier run left: for a look at a piece.
func Still(s *Studio) { s.still = true }

// Reading has files read by r.
func Reading(r Reader) func(*Studio) { return func(s *Studio) { s.reader = r } }

// Room lets work in that goes on beside the stages, by the bytes that it needs; free must be called
// when it is over.
func (s *Studio) Room(ctx context.Context, bytes int64) (free func(), err error) {
	return s.queue.Enter(ctx, bytes)
}

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
