// Package stages is the line from the bytes of files and a recipe to solids:
//
//	read > join > mend > choose > size > regions > plan > solid > check
//
// Each stage is a pure function of one input struct. Results are kept by the
// hash of exactly that struct, so:
//
//  1. equal inputs have equal keys, on every machine and in every run;
//  2. whatever a stage looks at is in its struct, and whatever is in the struct
//     is in the key: nobody writes a key by hand;
//  3. the result of an earlier stage stands in the struct as a Made, and counts
//     by its own key;
//  4. values in a struct are brought to a normal form before (decisions.go), so
//     that what changes nothing gives the key of before.
package stages

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"

	"bildhauer/core/progress"
)

// Key names the result of a stage.
type Key string

// Made is the result of a stage, and what it was made from.
type Made[T any] struct {
	Key   Key
	Value T
}

// MarshalJSON writes the key, which stands for the value.
func (m Made[T]) MarshalJSON() ([]byte, error) { return json.Marshal(m.Key) }

// Stage is one step of the line.
type Stage[In, Out any] struct {
	Name string
	Run  func(ctx context.Context, in In) (Out, error)
	Size func(Out) int64 // bytes that a result holds in memory
	Need func(In) int64  // bytes that making one takes beside it, estimated; nil for little
}

// Key returns the key of the result for an input.
func (s Stage[In, Out]) Key(in In) Key { return hashOf(s.Name, in) }

func hashOf(name string, in any) Key {
	raw, err := json.Marshal(in)
	if err != nil { // only for structs that no stage may have (see the test)
		panic(fmt.Sprintf("stages: input of %s: %v", name, err))
	}
	h := sha256.New()
	h.Write([]byte(name))
	h.Write([]byte{0})
	h.Write(raw)
	return Key(hex.EncodeToString(h.Sum(nil)[:16]))
}

// Task is the making of one result.
type Task struct {
	Stage string
	Key   Key
	Need  int64 // bytes it takes, estimated
	Run   func(ctx context.Context) (value any, bytes int64, err error)
}

// Keeper makes results, or hands out those it kept.
type Keeper interface {
	Keep(ctx context.Context, t Task) (any, error)
}

// Direct is a keeper that keeps nothing.
type Direct struct{}

// Keep runs the task.
func (Direct) Keep(ctx context.Context, t Task) (any, error) {
	v, _, err := t.Run(ctx)
	return v, err
}

// Given puts the result for an input, which was come by otherwise, into the keeper.
func (s Stage[In, Out]) Given(ctx context.Context, k Keeper, in In, out Out) (Made[Out], error) {
	s.Run = func(context.Context, In) (Out, error) { return out, nil }
	return s.Make(ctx, k, in)
}

// Make returns the result for an input, by way of the keeper.
func (s Stage[In, Out]) Make(ctx context.Context, k Keeper, in In) (Made[Out], error) {
	t := Task{Stage: s.Name, Key: s.Key(in)}
	if s.Need != nil {
		t.Need = s.Need(in)
	}
	t.Run = func(ctx context.Context) (value any, bytes int64, err error) {
		defer func() {
			if p := recover(); progress.Caught(p) {
				value, bytes, err = nil, 0, ctx.Err()
			} else if p != nil {
				panic(p)
			}
		}()
		out, err := s.Run(ctx, in)
		if end := ctx.Err(); end != nil { // whatever the work made of that
			return nil, 0, end
		}
		if err != nil {
			return nil, 0, err
		}
		return out, s.Size(out), nil
	}
	v, err := k.Keep(ctx, t)
	if err != nil {
		return Made[Out]{}, err
	}
	return Made[Out]{t.Key, v.(Out)}, nil
}
