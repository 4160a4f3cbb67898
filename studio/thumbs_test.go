package studio

import (
	"context"
	"errors"
	"fmt"
	"sync/atomic"
	"testing"
	"time"

	"bildhauer/internal/patience"
)

// TestThumbsAreKept draws little pictures as pieces are saved: of many changes the last one alone, which is
// there at once when it is asked for, also after a restart; what can't be drawn is asked for again.
func TestThumbsAreKept(t *testing.T) {
	dir := t.TempDir()
	s, err := New(dir)
	if err != nil {
		t.Fatal(err)
	}
	id := made(t, s, File{"a.svg", []byte(square)})
	var drawn atomic.Int64
	draw := func(rev int64) func(context.Context) ([]byte, error) {
		return func(context.Context) ([]byte, error) {
			drawn.Add(1)
			return fmt.Appendf(nil, "<svg>%d</svg>", rev), nil
		}
	}
	p := piece(t, s, id)
	for i := range 5 {
		p = change(t, s, id, "Depth", setDepth(float64(10+i)))
		s.DrawLater(p, draw(p.Rev))
		s.DrawLater(p, draw(p.Rev)) // seen by another window
	}
	want := fmt.Sprintf("<svg>%d</svg>", p.Rev)
	until := time.Now().Add(patience.Of(t))
	for {
		if svg, err := s.store.Picture(t.Context(), id, p.Rev); err != nil || string(svg) == want {
			break
		}
		if time.Now().After(until) {
			t.Fatal("no picture was drawn")
		}
		time.Sleep(5 * time.Millisecond)
	}
	if n := drawn.Load(); n != 1 {
		t.Errorf("%d pictures were drawn of five changes", n)
	}
	s.Close()
	if s, err = New(dir); err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	never := func(context.Context) ([]byte, error) { return nil, errors.New("drawn again") }
	if svg, err := s.Thumb(t.Context(), piece(t, s, id), never); err != nil || string(svg) != want {
		t.Errorf("after a restart: %s, %v", svg, err)
	}
	next := change(t, s, id, "Depth", setDepth(20))
	if _, err := s.Thumb(t.Context(), next, never); err == nil {
		t.Error("a picture of before was taken for that of now")
	}
	if svg, err := s.Thumb(t.Context(), next, draw(next.Rev)); err != nil || string(svg) == want {
		t.Errorf("after a change: %s, %v", svg, err)
	}
}
