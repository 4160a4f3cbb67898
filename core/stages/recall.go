package stages

import (
	"context"
	"sync"
)

// Recall is a keeper for one piece that is made once: it hands everything on, and remembers what several
// bodies ask for.
type Recall struct {
	Keeper Keeper
	made   sync.Map // of Key: *recalled
}

type recalled struct {
	mu    sync.Mutex
	value any
}

// Keep implements Keeper.
func (r *Recall) Keep(ctx context.Context, t Task) (any, error) {
	if t.Stage != Plan.Name && t.Stage != Cover.Name {
		return r.Keeper.Keep(ctx, t)
	}
	entry, _ := r.made.LoadOrStore(t.Key, &recalled{})
	one := entry.(*recalled)
	one.mu.Lock()
	defer one.mu.Unlock()
	if one.value != nil {
		return one.value, nil
	}
	v, err := r.Keeper.Keep(ctx, t)
	if err == nil {
		one.value = v
	}
	return v, err
}
