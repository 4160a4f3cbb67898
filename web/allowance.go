package web

import (
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
	"golang.org/x/time/rate"
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
	files, bytes *rate.Limiter
	disk         *rate.Limiter // bytes
	atWork       int
}

func fullBucket() *bucket {
	return &bucket{
		files: rate.NewLimiter(uploadsBack, mostUploads),
		bytes: rate.NewLimiter(broughtBack, mostBrought),
		disk:  rate.NewLimiter(diskBack, mostDisk),
	}
}

// full tells that nothing of it is in use: it needs no memory.
func (b *bucket) full(now time.Time) bool {
	for _, l := range []*rate.Limiter{b.files, b.bytes, b.disk} {
		if l.TokensAt(now) < float64(l.Burst()) {
			return false
		}
	}
	return b.atWork == 0
}

// A class of thirty behind one address brings a file each at once, and some more; a studio sends a
// series of hundreds of files as one request.
const (
	mostUploads  = 60                  // requests with files at once
	uploadsBack  = 1                   // that come back a second
	mostBrought  = 512 << 20           // bytes at once
	broughtBack  = 4 << 20             // that come back a second
	mostAtWork   = 60                  // requests of one address
	mostDisk     = 4 << 30             // bytes of files that stay
	diskBack     = mostDisk / 86_400.0 // that come back a second: all of it in a day
	mostRemember = 10_000              // addresses
	sweepEvery   = 10 * time.Second    // at the most: it takes a look at all
)

func newAllowance() *allowance {
	return &allowance{now: time.Now, seen: map[string]*bucket{}}
}

// of returns the bucket of an address; a.mu is held.
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
		b = fullBucket()
		a.seen[address] = b
	}
	return b
}

// sweep drops the buckets that are full again. a.mu is held.
func (a *allowance) sweep() {
	a.swept = a.now()
	for address, old := range a.seen {
		if old.full(a.swept) {
			delete(a.seen, address)
		}
	}
}

// sayDisk is said to an address that brought as much as it may.
const sayDisk = "Your address has brought as much as it may in a day (4 GB). Come back tomorrow, or ask who runs this."

// stays charges bytes that stay on the disk without having come as a file, such as those of a copy.
func (a *allowance) stays(address string, bytes int64) (say string) {
	a.mu.Lock()
	defer a.mu.Unlock()
	if !a.of(address).disk.AllowN(a.now(), int(bytes)) {
		return sayDisk
	}
	return ""
}

// begin lets a request in, or says why not; the end of one that was let in is told by done.
func (a *allowance) begin(address string, files bool, bytes int) (done func(), say string) {
	a.mu.Lock()
	defer a.mu.Unlock()
	b, now := a.of(address), a.now()
	if b.atWork >= mostAtWork {
		return nil, "Too much is being done for your address at once. Wait until some of it is done."
	}
	if files { // nothing is charged for what isn't let in
		switch brought := float64(bytes); {
		case b.files.TokensAt(now) < 1 || b.bytes.TokensAt(now) < brought:
			return nil, "Too many files come from your address. Wait a minute and try again."
		case b.disk.TokensAt(now) < brought:
			return nil, sayDisk
		}
		b.files.AllowN(now, 1)
		b.bytes.AllowN(now, bytes)
		b.disk.AllowN(now, bytes)
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
