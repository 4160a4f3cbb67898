package budget

import (
	"context"
	"errors"
	"strings"
	"testing"
	"time"
)

// spend runs f within a budget and returns what it ended with.
func spend(ctx context.Context, f func(b *Budget)) *Exceeded {
	_, err := Within(ctx, func(b *Budget) (int, error) {
		f(b)
		return 1, nil
	})
	var x *Exceeded
	errors.As(err, &x)
	return x
}

// TestEachKindHasALimit spends all of each kind, and one more.
func TestEachKindHasALimit(t *testing.T) {
	said := map[string]bool{}
	for k := Kind(0); k < kinds; k++ {
		all := int(most[k])
		if x := spend(context.Background(), func(b *Budget) { b.Spend(k, all) }); x != nil {
			t.Errorf("kind %d: all of it is too much: %v", k, x)
		}
		x := spend(context.Background(), func(b *Budget) {
			b.Spend(k, all-1)
			b.Spend(k, -all) // gives nothing back
			b.Spend(k, 2)
		})
		if x == nil {
			t.Errorf("kind %d: one more than all was allowed", k)
			continue
		}
		if !strings.Contains(x.Text, ". ") || strings.Contains(x.Text, "%!") || said[x.Text] {
			t.Errorf("kind %d says %q", k, x.Text)
		}
		said[x.Text] = true
	}
}

// TestKindsAreCountedApart spends all of one kind and still has the others.
func TestKindsAreCountedApart(t *testing.T) {
	x := spend(context.Background(), func(b *Budget) {
		for k := Kind(0); k < kinds; k++ {
			b.Spend(k, int(most[k]))
		}
		for k := Kind(0); k < kinds; k++ {
			if b.Left(k) != 0 {
				t.Errorf("%d left of kind %d", b.Left(k), k)
			}
		}
	})
	if x != nil {
		t.Error(x)
	}
}

// TestDepth goes as deep as allowed by both ways, and one level deeper.
func TestDepth(t *testing.T) {
	x := spend(context.Background(), func(b *Budget) {
		for range MaxDepth {
			b.Dive()
		}
		for range MaxDepth {
			b.Leave()
		}
		for range MaxDepth {
			if !b.Enter() {
				t.Error("levels that were left still count")
			}
		}
		if b.Enter() {
			t.Error("one level deeper was allowed")
		}
		b.Leave()
		b.Dive()
	})
	if x == nil || !strings.Contains(x.Text, "400 deep") {
		t.Errorf("ended with %v", x)
	}
}

// TestNobodyWaits stops soon after the context is done, whatever is spent, and
// says so by the context's error.
func TestNobodyWaits(t *testing.T) {
	for k := Kind(0); k < kinds; k++ {
		ctx, cancel := context.WithCancel(context.Background())
		calls := 0
		x := spend(ctx, func(b *Budget) {
			for range 100_000 {
				if calls++; calls == 10 {
					cancel()
				}
				b.Spend(k, 0)
			}
		})
		cancel()
		if x == nil || !errors.Is(x, context.Canceled) || calls > 10+4096 {
			t.Errorf("kind %d: ended with %v after %d calls", k, x, calls)
		}
	}
}

// TestWatched ends a reading whose time is over, and one that holds too much.
func TestWatched(t *testing.T) {
	for _, c := range []struct {
		watch Watch
		want  string
	}{
		{
			Watch{Clock: func() time.Duration { return MaxTime + time.Second }},
			"takes longer to read than a drawing should (60 seconds)",
		},
		{
			Watch{Bytes: 7 << 20, Held: func() int64 { return 7<<20 + 1 }},
			"needs more memory to be read than a drawing should (7 MB)",
		},
		{Watch{Bytes: 7 << 20, Held: func() int64 { return 7 << 20 }}, ""},
	} {
		_, err := Under(Watched(context.Background(), c.watch), func(b *Budget) (int, error) {
			for range 10_000 {
				b.Visit()
			}
			return 1, nil
		})
		if (err == nil) != (c.want == "") || err != nil && !strings.Contains(err.Error(), c.want) {
			t.Errorf("ended with %v", err)
		}
	}
}

// TestOtherPanicsGoOn checks that only the budget's own are caught, and that a
// reader that catches a library's faults lets the budget's pass.
func TestOtherPanicsGoOn(t *testing.T) {
	caught := func(f func(b *Budget)) (p any) {
		defer func() { p = recover() }()
		spend(context.Background(), f)
		return nil
	}
	if p := caught(func(*Budget) { panic("library") }); p != "library" {
		t.Errorf("caught %v", p)
	}
	x := spend(context.Background(), func(b *Budget) {
		defer func() { Pass(recover()) }()
		b.Spend(Copies, int(most[Copies])+1)
	})
	if x == nil || !strings.Contains(x.Text, "copies") {
		t.Errorf("a reader swallowed the end of the budget: %v", x)
	}
	Pass("library")
	Pass(nil)
}

// TestNothingComesBack checks that what f made so far is not returned when it
// went beyond its budget.
func TestNothingComesBack(t *testing.T) {
	got, err := Within(context.Background(), func(b *Budget) (s []string, err error) {
		s = append(s, "half")
		b.Spend(Nodes, int(most[Nodes])+1)
		return s, nil
	})
	if got != nil || err == nil {
		t.Errorf("got %q, %v", got, err)
	}
}
