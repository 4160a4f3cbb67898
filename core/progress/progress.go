// Package progress carries word of how far work has come to whoever waits for
// it, through the context.
package progress

import "context"

// Report tells how far one piece of work is.
type Report struct {
	What  string  // what is being done, as a screen may show it
	Share float64 // from 0 to 1; 0 where it can't be told
}

type key struct{}

// With returns a context in which work reports to f. f may be called from
// several goroutines and must not block.
func With(ctx context.Context, f func(Report)) context.Context {
	return context.WithValue(ctx, key{}, f)
}

// Set reports how far the work is.
func Set(ctx context.Context, what string, share float64) {
	if f, ok := ctx.Value(key{}).(func(Report)); ok {
		f(Report{what, share})
	}
}
