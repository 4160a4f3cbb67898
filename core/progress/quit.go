package progress

import (
	"context"

	"bildhauer/core/parallel"
)

// Quit is what deep work panics with when nobody waits for it any more. Stages turn it into the
// context's error; no error has to be handed up through loops that can't fail otherwise.
type Quit struct{}

// Needed panics with Quit when ctx is done.
func Needed(ctx context.Context) {
	if ctx.Err() != nil {
		panic(Quit{})
	}
}

// Caught reports whether what was recovered is a Quit, also one that came out of parallel work.
func Caught(p any) bool {
	if w, ok := p.(*parallel.Panic); ok {
		p = w.Value
	}
	_, quit := p.(Quit)
	return quit
}

// Poll looks now and then whether work is still needed. It serves one goroutine; nil never looks.
type Poll struct {
	stop  func() bool
	ticks int
}

// NewPoll returns one for ctx.
func NewPoll(ctx context.Context) *Poll { return PollOf(func() bool { return ctx.Err() != nil }) }

// PollOf returns one that asks stop; nil for none.
func PollOf(stop func() bool) *Poll {
	if stop == nil {
		return nil
	}
	return &Poll{stop: stop}
}

// pace is how many ticks lie between two looks: of some 100 ns of work each, below a millisecond.
const pace = 1 << 12

// Tick counts a little work.
func (p *Poll) Tick() { p.Spend(1) }

// Spend counts work worth n ticks.
func (p *Poll) Spend(n int) {
	if p == nil {
		return
	}
	if p.ticks += n; p.ticks >= pace {
		p.ticks = 0
		p.Look()
	}
}

// Look looks at once.
func (p *Poll) Look() {
	if p != nil && p.stop() {
		panic(Quit{})
	}
}

// At looks at every so many-th item of work that is done side by side; it may be called from
// several goroutines.
func (p *Poll) At(i int) {
	if i%pace == 0 {
		p.Look()
	}
}
