package web

import (
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
)

// allowance bounds what comes from one address where others use the application, too: files by
// their number and bytes, and requests at work.
type allowance struct {
	now func() time.Time

	mu    sync.Mutex
	seen  map[string]*bucket
	swept time.Time // when those that are full again were dropped
}

// bucket is what an address may still bring; it fills up again as time passes.
type bucket struct {
	files, bytes float64
	disk         float64 // bytes
	last         time.Time
	atWork       int
}

// A class of thirty behind one address brings a file each at once, and some more; a studio sends a
// series of hundreds of files as one request.
const (
	mostUploads  = 60.0               // requests with files at once
	uploadsBack  = 1.0                // that come back a second
	mostBrought  = float64(512 << 20) // bytes at once
	broughtBack  = float64(4 << 20)   // that come back a second
	mostAtWork   = 60                 // requests of one address
	mostDisk     = float64(4 << 30)   // bytes of files that stay
	diskBack     = mostDisk / 86_400  // that come back a second: all of it in a day
	mostRemember = 10_000             // addresses
	sweepEvery   = 10 * time.Second   // at the most: it takes a look at all
)

func newAllowance() *allowance {
	return &allowance{now: time.Now, seen: map[string]*bucket{}}
}

// of returns the bucket of an address, filled up to now; a.mu is held.
func (a *allowance) of(address string) *bucket {
	b := a.seen[address]
	if b == nil && len(a.seen) >= mostRemember {
		if a.now().Sub(a.swept) >= sweepEvery {
			a.sweep()
		}
		if len(a.seen) >= mostRemember { // no room: all that are new share one
			address = strangers
			b = a.seen[address]
		}
	}
	if b == nil {
		b = &bucket{files: mostUploads, bytes: mostBrought, disk: mostDisk, last: a.now()}
		a.seen[address] = b
	}
	gone := a.now().Sub(b.last).Seconds()
	b.files = min(mostUploads, b.files+gone*uploadsBack)
	b.bytes = min(mostBrought, b.bytes+gone*broughtBack)
	b.disk = min(mostDisk, b.disk+gone*diskBack)
	b.last = a.now()
	return b
}

// sweep drops the buckets that are full again: they need no memory. a.mu is held.
func (a *allowance) sweep() {
	a.swept = a.now()
	for k, old := range a.seen {
		gone := a.now().Sub(old.last).Seconds()
		full := old.disk+gone*diskBack >= mostDisk && old.files+gone*uploadsBack >= mostUploads && old.bytes+gone*broughtBack >= mostBrought
		if old.atWork == 0 && full {
			delete(a.seen, k)
		}
	}
}

// sayDisk is said to an address that brought as much as it may.
const sayDisk = "Your address has brought as much as it may in a day (4 GB). Come back tomorrow, or ask who runs this."

// stays charges bytes that stay on the disk without having come as a file, such as those of a copy.
func (a *allowance) stays(address string, bytes int64) (say string) {
	a.mu.Lock()
	defer a.mu.Unlock()
	b := a.of(address)
	if b.disk < float64(bytes) {
		return sayDisk
	}
	b.disk -= float64(bytes)
	return ""
}

// begin lets a request in, or says why not; the end of one that was let in is told by done.
func (a *allowance) begin(address string, files bool, bytes int) (done func(), say string) {
	a.mu.Lock()
	defer a.mu.Unlock()
	b := a.of(address)
	switch {
	case b.atWork >= mostAtWork:
		return nil, "Too much is being done for your address at once. Wait until some of it is done."
	case files && (b.files < 1 || b.bytes < float64(bytes)):
		return nil, "Too many files come from your address. Wait a minute and try again."
	case files && b.disk < float64(bytes):
		return nil, sayDisk
	}
	if files {
		b.files--
		b.bytes -= float64(bytes)
		b.disk -= float64(bytes)
	}
	b.atWork++
	return func() {
		a.mu.Lock()
		defer a.mu.Unlock()
		b.atWork--
	}, ""
}

// allow is part of every request where others use the application, too.
func (h *server) allow(c fiber.Ctx) error {
	if h.entry == nil || strings.HasPrefix(c.Path(), "/static/") || strings.HasSuffix(c.Path(), "/data/events") {
		return c.Next()
	}
	files := strings.HasPrefix(c.Get("Content-Type"), "multipart/")
	done, say := h.allowance.begin(h.address(c), files, max(0, c.Request().Header.ContentLength()))
	if done == nil {
		c.Set("Retry-After", "60")
		return fiber.NewError(fiber.StatusTooManyRequests, say)
	}
	defer done()
	return c.Next()
}

// admit charges an address for what stays on the disk, beyond what came along.
func (h *server) admit(c fiber.Ctx) func(bytes int64) error {
	address, came := h.address(c), int64(max(0, c.Request().Header.ContentLength()))
	return func(bytes int64) error {
		if h.entry == nil || bytes <= came {
			return nil
		}
		if say := h.allowance.stays(address, bytes-came); say != "" {
			return fiber.NewError(fiber.StatusTooManyRequests, say)
		}
		return nil
	}
}
