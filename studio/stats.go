package studio

import "context"

// Stats are numbers about a studio, for those who watch it.
type Stats struct {
	Pieces    int64
	Jobs      int
	KeptBytes int64 // of results in memory
	Diary     int64 // entries so far
}

// Stats returns the numbers of this moment.
func (s *Studio) Stats(ctx context.Context) Stats {
	out := Stats{}
	out.Pieces, _ = s.store.Count(ctx)
	s.jobs.mu.Lock()
	out.Jobs = len(s.jobs.running)
	s.jobs.mu.Unlock()
	s.flights.mu.Lock()
	out.KeptBytes = s.flights.kept.held
	s.flights.mu.Unlock()
	s.diary.mu.Lock()
	out.Diary = s.diary.last
	s.diary.mu.Unlock()
	return out
}

// Healthy reports what keeps pieces from being read and changed, nil for nothing.
func (s *Studio) Healthy(ctx context.Context) error { return s.store.Ping(ctx) }
