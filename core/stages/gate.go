package stages

import (
	"context"
	"runtime"

	"golang.org/x/sync/semaphore"
)

// Gate lets work in by what it needs: memory first, then a core, in the order of coming. Two large
// jobs come one after the other instead of adding up; what needs more than there can be is refused
// before it begins.
type Gate struct {
	memory *semaphore.Weighted
	cores  *semaphore.Weighted
	room   int64
	most   int64
}

// NewGate returns one that lets in work of room bytes at a time. A single job may take up to most,
// alone; 0 for any.
func NewGate(room, most int64) *Gate {
	cores := semaphore.NewWeighted(int64(max(2, runtime.GOMAXPROCS(0))))
	return &Gate{semaphore.NewWeighted(room), cores, room, most}
}

// Enter waits for room. free must be called when the work is over. The error is the context's, or
// a Problem that says how much is needed.
func (g *Gate) Enter(ctx context.Context, need int64) (free func(), err error) {
	if g.most > 0 && need > g.most {
		return nil, problem(TooMuchMemory, float64(need)/(1<<30), float64(g.most)/(1<<30))
	}
	need = max(0, min(need, g.room)) // what needs more than the room comes alone
	if err := g.memory.Acquire(ctx, need); err != nil {
		return nil, err
	}
	if err := g.cores.Acquire(ctx, 1); err != nil {
		g.memory.Release(need)
		return nil, err
	}
	return func() {
		g.cores.Release(1)
		g.memory.Release(need)
	}, nil
}

// Gated is a keeper that keeps nothing and lets work in by a gate.
type Gated struct{ *Gate }

// Keep runs the task when there is room.
func (g Gated) Keep(ctx context.Context, t Task) (any, error) {
	free, err := g.Enter(ctx, t.Need)
	if err != nil {
		return nil, err
	}
	defer free()
	v, _, err := t.Run(ctx)
	return v, err
}
