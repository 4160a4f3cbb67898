//go:build !race

package stages

const racing = false
