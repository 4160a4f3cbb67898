package studio

import (
	"context"
	"errors"
	"sync"
	"time"

	"bildhauer/core/progress"
)

// jobs are what people started and may end: a build, a check, a file to write.
// Each has an id that the page gave it.
type jobs struct {
	mu      sync.Mutex
	running map[string]context.CancelCauseFunc
}

func newJobs() *jobs { return &jobs{running: map[string]context.CancelCauseFunc{}} }

// ErrCancelled is how a job ends that someone cancelled.
var ErrCancelled = errors.New("cancelled")

// reportEvery is how often a job's progress is passed on at the most.
const reportEvery = 100 * time.Millisecond

// Begin makes a context for a job on a piece that ends with ctx, with Cancel of
// its id, or with the studio. What the stages report goes to the windows of the
// piece. end must be called.
func (s *Studio) Begin(ctx context.Context, id, piece string) (job context.Context, end func()) {
	job, cancel := context.WithCancelCause(ctx)
	release := context.AfterFunc(s.ctx, func() { cancel(ErrCancelled) })
	if id != "" {
		s.jobs.mu.Lock()
		s.jobs.running[id] = cancel
		s.jobs.mu.Unlock()
		var mu sync.Mutex
		var last time.Time
		job = progress.With(job, func(r progress.Report) {
			mu.Lock()
			now := time.Now()
			due := now.Sub(last) >= reportEvery
			if due {
				last = now
			}
			mu.Unlock()
			if due {
				s.bus.progress(piece, id, Progress{r.What, r.Share})
			}
		})
	}
	return job, func() {
		release()
		cancel(nil)
		s.jobs.mu.Lock()
		defer s.jobs.mu.Unlock()
		delete(s.jobs.running, id)
	}
}

// Cancel ends a job. It reports whether there was one.
func (s *Studio) Cancel(id string) bool {
	s.jobs.mu.Lock()
	defer s.jobs.mu.Unlock()
	cancel, ok := s.jobs.running[id]
	if ok {
		cancel(ErrCancelled)
	}
	return ok
}
