package studio

import (
	"context"
	"runtime"

	"golang.org/x/sync/semaphore"
)

// queue lets work in by what it needs: memory first, then a core, in the order
// of coming. Two large jobs come one after the other instead of adding up.
type queue struct {
	memory *semaphore.Weighted
	cores  *semaphore.Weighted
	most   int64
}

func newQueue(bytes int64) *queue {
	return &queue{
		semaphore.NewWeighted(bytes),
		semaphore.NewWeighted(int64(max(2, runtime.GOMAXPROCS(0)))),
		bytes,
	}
}

// enter waits for room. free must be called when the work is over.
func (q *queue) enter(ctx context.Context, need int64) (free func(), err error) {
	need = max(0, min(need, q.most)) // what needs more than there is comes alone
	if err := q.memory.Acquire(ctx, need); err != nil {
		return nil, err
	}
	if err := q.cores.Acquire(ctx, 1); err != nil {
		q.memory.Release(need)
		return nil, err
	}
	return func() {
		q.cores.Release(1)
		q.memory.Release(need)
	}, nil
}
