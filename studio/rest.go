package studio

import (
	"runtime/debug"
	"time"
)

// When nobody has asked for anything for a while, most results are forgotten and memory goes
// back to the system; what is asked for again is made again. While somebody has a piece open
// that is a long while.
const (
	restPace  = 10 * time.Second
	restAfter = 30 * time.Second
	restLater = 30 * time.Minute // with a window open
	restBytes = 12 << 20         // of results that stay
)

// restNow looks now and then whether it is time to rest.
func (s *Studio) restNow() {
	tick := time.NewTicker(restPace)
	defer tick.Stop()
	rested := time.Now()
	for {
		select {
		case <-s.ctx.Done():
			return
		case now := <-tick.C:
			after := restAfter
			if s.bus.open() {
				after = restLater
			}
			if asked := s.flights.lastAsked(); asked.After(rested) && now.Sub(asked) >= after {
				s.flights.rest(restBytes)
				rested = now
			}
		}
	}
}

// lastAsked tells when somebody asked for a result.
func (f *flights) lastAsked() time.Time {
	f.mu.Lock()
	defer f.mu.Unlock()
	return f.asked
}

// rest keeps so many bytes of results, those asked for last, and gives memory back.
func (f *flights) rest(most int64) {
	f.mu.Lock()
	busy := len(f.running) > 0
	for !busy && f.kept.held > most {
		f.kept.remove(f.kept.order.Front())
	}
	f.mu.Unlock()
	if !busy {
		debug.FreeOSMemory() // pools let go of what they hold
		debug.FreeOSMemory()
	}
}
