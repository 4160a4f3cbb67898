package studio

import (
	"maps"
	"sync"
)

// Events is what the windows on one piece are told: that there is a new
// revision, and how far jobs are. Only the latest of each is kept, so a slow
// window falls behind without anyone waiting for it.
type Events struct {
	Rev  int64               // the revision in force, if News
	News bool                // it changed
	Jobs map[string]Progress // by id of the job

	Orders bool // some order is farther than it was
}

// Progress is how far a job is.
type Progress struct {
	What  string  `json:"what"`
	Share float64 `json:"share"` // from 0 to 1; 0 where it can't be told
}

// bus carries events to the windows.
type bus struct {
	mu      sync.Mutex
	windows map[*Window]bool
	closed  bool
}

// Window is someone who looks at one piece.
type Window struct {
	bus    *bus
	piece  string
	wake   chan struct{} // holds one signal
	gone   chan struct{}
	events Events
}

func newBus() *bus { return &bus{windows: map[*Window]bool{}} }

// open reports whether there is any window.
func (b *bus) open() bool {
	b.mu.Lock()
	defer b.mu.Unlock()
	return len(b.windows) > 0
}

// Watch opens a window on a piece. It must be closed.
func (s *Studio) Watch(piece string) *Window {
	w := &Window{bus: s.bus, piece: piece, wake: make(chan struct{}, 1), gone: make(chan struct{})}
	s.bus.mu.Lock()
	defer s.bus.mu.Unlock()
	if s.bus.closed {
		close(w.gone)
	} else {
		s.bus.windows[w] = true
	}
	return w
}

// Close closes the window.
func (w *Window) Close() {
	w.bus.mu.Lock()
	defer w.bus.mu.Unlock()
	if w.bus.windows[w] {
		delete(w.bus.windows, w)
		close(w.gone)
	}
}

// Wake returns a channel that gets a signal when there are events, and one that
// is closed when there will be none any more.
func (w *Window) Wake() (events, gone <-chan struct{}) { return w.wake, w.gone }

// Take returns the events since the last call.
func (w *Window) Take() Events {
	w.bus.mu.Lock()
	defer w.bus.mu.Unlock()
	e := w.events
	w.events = Events{}
	return e
}

// close ends all windows.
func (b *bus) close() {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.closed = true
	for w := range maps.Clone(b.windows) {
		delete(b.windows, w)
		close(w.gone)
	}
}

func (b *bus) tell(piece string, put func(*Events)) {
	b.mu.Lock()
	defer b.mu.Unlock()
	for w := range b.windows {
		if w.piece != piece {
			continue
		}
		put(&w.events)
		select {
		case w.wake <- struct{}{}:
		default:
		}
	}
}

// revision tells the windows of a piece which revision is in force.
func (b *bus) revision(piece string, rev int64) {
	b.tell(piece, func(e *Events) { e.Rev, e.News = rev, true })
}

// ordered tells them that some order is farther.
func (b *bus) ordered(piece string) { b.tell(piece, func(e *Events) { e.Orders = true }) }

// progress tells them how far a job is.
func (b *bus) progress(piece, job string, p Progress) {
	b.tell(piece, func(e *Events) {
		if e.Jobs == nil {
			e.Jobs = map[string]Progress{}
		}
		e.Jobs[job] = p
	})
}
