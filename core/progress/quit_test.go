package progress

import (
	"context"
	"testing"

	"bildhauer/core/parallel"
)

// TestPolls cancels work in the middle of its loops: a poll lets little more of it happen, on its
// own and within parallel work, what is thrown is told from other panics, and a nil poll never
// stops anything.
func TestPolls(t *testing.T) {
	caught := func(f func()) (quit, other bool) {
		defer func() {
			p := recover()
			quit = Caught(p)
			other = p != nil && !quit
		}()
		f()
		return
	}
	ctx, cancel := context.WithCancel(t.Context())
	done := 0
	quit, _ := caught(func() {
		poll := NewPoll(ctx)
		for done = 0; done < 100_000; done++ {
			if done == 5000 {
				cancel()
			}
			poll.Tick()
		}
	})
	if !quit || done < 5000 || done > 5000+pace {
		t.Errorf("ended after %d of 100,000: %v", done, quit)
	}
	if quit, _ := caught(func() {
		_ = parallel.Each(8, func(int) error {
			Needed(ctx)
			return nil
		})
	}); !quit {
		t.Error("parallel work goes on")
	}
	if quit, other := caught(func() { panic("library") }); quit || !other {
		t.Error("another panic is taken for the end of work")
	}
	if quit, other := caught(func() {
		var none *Poll
		for i := range 3 * pace {
			none.Tick()
			none.At(i)
		}
		none.Look()
	}); quit || other {
		t.Error("nobody's poll ended something")
	}
	if Who(For(ctx, "")) != "" || Who(For(ctx, "10.0.0.1")) != "10.0.0.1" {
		t.Error("who asks is not told")
	}
}
