package studio

import (
	"container/list"
	"time"

	"bildhauer/core/stages"
)

// cache keeps the results used last, by what they weigh and not by their
// number. It is guarded by the flights that own it. Its laws:
//
//  1. the weights of what it holds never pass most;
//  2. a result that would take more than half of it is not kept;
//  3. what goes is handed to drop.
type cache struct {
	most, held int64
	order      *list.List // of *kept, oldest first
	items      map[stages.Key]*list.Element
	drop       func(any)
}

type kept struct {
	key   stages.Key
	value any
	bytes int64
	took  time.Duration // to make it
}

func newCache(most int64, drop func(any)) *cache {
	return &cache{most: most, order: list.New(), items: map[stages.Key]*list.Element{}, drop: drop}
}

func (c *cache) get(key stages.Key) (*kept, bool) {
	e, ok := c.items[key]
	if !ok {
		return nil, false
	}
	c.order.MoveToBack(e)
	return e.Value.(*kept), true
}

// put keeps a value and reports whether it did.
func (c *cache) put(key stages.Key, value any, bytes int64, took time.Duration) bool {
	if _, ok := c.items[key]; ok || bytes > c.most/2 {
		return false
	}
	c.items[key] = c.order.PushBack(&kept{key, value, bytes, took})
	c.held += bytes
	for c.held > c.most {
		c.remove(c.order.Front())
	}
	return true
}

func (c *cache) remove(e *list.Element) {
	k := c.order.Remove(e).(*kept)
	delete(c.items, k.key)
	c.held -= k.bytes
	if c.drop != nil {
		c.drop(k.value)
	}
}
