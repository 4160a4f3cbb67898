//go:build race

package stages

// Under the race detector work takes many times as long.
const racing = true
