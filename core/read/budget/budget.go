// Package budget bounds the work that one file may cause, for all readers. It
// is handed down and counted wherever work grows, at every visit of a group as
// well as at every shape, so that no reader needs a counter of its own.
//
// What goes beyond a limit ends the reading with a panic of *Exceeded, which
// read.SheetWith turns into a sentence: no reader can forget to look at it, and
// no program in a file can catch it.
package budget

import (
	"context"
	"fmt"
	"time"

	"bildhauer/core/units"
)

// Kind is what is counted.
type Kind uint8

// The kinds.
const (
	Steps   Kind = iota // visits, tokens, operators; one is worth some 100 ns
	Objects             // elements of a document, shapes of a page
	Nodes               // of all outlines
	Copies              // made by references, patterns, markers, forms
	Bytes               // unpacked from the file
	Memory              // entries of arrays, dictionaries and stacks that a program makes; some 56 bytes each
	Entries             // of fonts' character maps
	kinds
)

// most is how much of each a file may take. The largest honest file that was
// met took a tenth of it.
var most = [kinds]int64{
	Steps:   20_000_000,
	Objects: 400_000,
	Nodes:   2_500_000,
	Copies:  50_000,
	Bytes:   384 << 20,
	Memory:  8_000_000,
	Entries: 2_000_000,
}

// words say what is too much, and the way out, as the rest of a sentence that
// begins with the file's name.
var words = [kinds]string{
	Steps:   "takes more steps than a drawing should (%s). Simplify the artwork and save it again",
	Objects: "has more than %s objects. Split the artwork into several files",
	Nodes:   "has more than %s nodes. Simplify its paths or split the artwork",
	Copies:  "makes more than %s copies of its objects. Expand the copies you need and save again",
	Bytes:   "unpacks to more than %s bytes. Leave out embedded bitmaps or split the artwork",
	Memory:  "keeps more values than a drawing should (%s). Simplify the artwork and save it again",
	Entries: "has fonts that name more than %s characters. Convert its text to paths and save again",
}

// MaxDepth bounds how deep groups, copies, procedures and forms may nest. Each
// level takes some kilobytes of a stack of 1 GB at the most; 400 lie far beyond
// what editors write.
const MaxDepth = 400

// MaxTime bounds the reading of one file; the other limits are reached first
// on all files that were met.
const MaxTime = time.Minute

// Exceeded is what reading a file ends with.
type Exceeded struct {
	Text string // for a sentence that begins with the file's name; "" when Err says it
	Err  error  // the context's, when nobody waits any more
}

func (e *Exceeded) Error() string {
	if e.Err != nil {
		return e.Err.Error()
	}
	return "the file " + e.Text
}

// Unwrap returns the context's error.
func (e *Exceeded) Unwrap() error { return e.Err }

// Budget is what is left for one file. It serves one goroutine.
type Budget struct {
	ctx   context.Context
	watch Watch
	left  [kinds]int64
	depth int
	tick  int
}

// Watch is what is looked at from time to time beside what is counted.
type Watch struct {
	Time  time.Duration        // that reading may take; 0 for MaxTime
	Clock func() time.Duration // that tells how much of it has gone; nil for the time of day
	Bytes int64                // of memory that may be held; 0 for any
	Held  func() int64         // that tells how much is
}

// New returns a full budget. Reading stops when ctx is done.
func New(ctx context.Context) *Budget { return Watched(ctx, Watch{}) }

// Watched is New with limits of its own on what is looked at.
func Watched(ctx context.Context, w Watch) *Budget {
	if w.Time <= 0 {
		w.Time = MaxTime
	}
	if w.Clock == nil {
		begun := time.Now()
		w.Clock = func() time.Duration { return time.Since(begun) }
	}
	return &Budget{ctx: ctx, watch: w, left: most}
}

// Within runs f with a full budget. It returns *Exceeded when f goes beyond it.
func Within[T any](ctx context.Context, f func(b *Budget) (T, error)) (out T, err error) {
	return Under(New(ctx), f)
}

// Under runs f with a budget.
func Under[T any](b *Budget, f func(b *Budget) (T, error)) (out T, err error) {
	defer func() {
		p := recover()
		if e, ok := p.(*Exceeded); ok {
			var none T
			out, err = none, e
		} else if p != nil {
			panic(p)
		}
	}()
	return f(b)
}

// Spend takes n of a kind.
func (b *Budget) Spend(k Kind, n int) {
	if b.left[k] -= int64(max(n, 0)); b.left[k] < 0 {
		exceed(words[k], units.Count(int(most[k])))
	}
	if b.tick++; b.tick&4095 == 0 || n > 1<<14 {
		b.look()
	}
}

// Context ends when nobody waits for the file any more.
func (b *Budget) Context() context.Context { return b.ctx }

// Visit counts one step.
func (b *Budget) Visit() { b.Spend(Steps, 1) }

// Pass panics again with a budget that was exceeded; those who recover from
// the faults of a library call it with what they caught.
func Pass(caught any) {
	if e, ok := caught.(*Exceeded); ok {
		panic(e)
	}
}

// Left returns how much there is left of a kind.
func (b *Budget) Left(k Kind) int64 { return b.left[k] }

// look asks the context, the clock and the memory.
func (b *Budget) look() {
	if err := b.ctx.Err(); err != nil {
		panic(&Exceeded{Err: err})
	}
	w := &b.watch
	if w.Clock() > w.Time {
		exceed("takes longer to read than a drawing should (%.2g seconds). Simplify the artwork and save it again", w.Time.Seconds())
	}
	if w.Bytes > 0 && w.Held() > w.Bytes {
		exceed("needs more memory to be read than a drawing should (%d MB). Simplify the artwork or split it", w.Bytes>>20)
	}
}

// exceed ends the reading with the rest of a sentence.
func exceed(format string, args ...any) { panic(&Exceeded{Text: fmt.Sprintf(format, args...)}) }

// Enter goes one level deeper and reports whether that is allowed; each Enter
// needs its Leave, whatever it answers.
func (b *Budget) Enter() bool {
	b.depth++
	return b.depth <= MaxDepth
}

// Leave comes back from a level.
func (b *Budget) Leave() { b.depth-- }

// Dive goes one level deeper, or ends the reading.
func (b *Budget) Dive() {
	if !b.Enter() {
		exceed("nests its groups and copies more than %d deep. Ungroup the artwork and save it again", MaxDepth)
	}
}
