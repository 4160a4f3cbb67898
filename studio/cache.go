package studio

import (
	"errors"
	"sync"
)

var errBroken = errors.New("the build broke off")

// cache keeps the values used last. Concurrent callers of one key share the
// making of its value. Errors are not kept.
type cache[V any] struct {
	mu    sync.Mutex
	most  int
	order []string // oldest first
	items map[string]*cacheItem[V]
}

type cacheItem[V any] struct {
	ready chan struct{}
	value V
	err   error
}

func newCache[V any](most int) *cache[V] {
	return &cache[V]{most: most, items: map[string]*cacheItem[V]{}}
}

func (c *cache[V]) get(key string, build func() (V, error)) (V, error) {
	c.mu.Lock()
	it, ok := c.items[key]
	if ok {
		c.touch(key)
		c.mu.Unlock()
		<-it.ready
		if it.err == nil {
			return it.value, nil
		}
		return build() // the one before was cancelled or failed
	}
	it = &cacheItem[V]{ready: make(chan struct{})}
	c.items[key] = it
	c.order = append(c.order, key)
	if len(c.order) > c.most {
		delete(c.items, c.order[0])
		c.order = c.order[1:]
	}
	c.mu.Unlock()
	done := false
	defer func() {
		if !done {
			it.err = errBroken // a panic passes through
		}
		if it.err != nil {
			c.mu.Lock()
			if c.items[key] == it {
				delete(c.items, key)
				c.forget(key)
			}
			c.mu.Unlock()
		}
		close(it.ready)
	}()
	it.value, it.err = build()
	done = true
	return it.value, it.err
}

func (c *cache[V]) touch(key string) {
	c.forget(key)
	c.order = append(c.order, key)
}

func (c *cache[V]) forget(key string) {
	for i, k := range c.order {
		if k == key {
			c.order = append(c.order[:i], c.order[i+1:]...)
			return
		}
	}
}
