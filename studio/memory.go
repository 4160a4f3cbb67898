package studio

import (
	"math"
	"os"
	"strconv"
	"strings"
)

// leastBytes is what a single job may take on any machine: a million segments without bevels.
const leastBytes = 1 << 30

// MostBytes returns how much memory a single job may take: half of what the machine has, or of
// what the system grants this process (memory.max of control groups).
func MostBytes() int64 {
	own := int64(math.MaxInt64)
	if raw, err := os.ReadFile("/proc/meminfo"); err == nil {
		for line := range strings.Lines(string(raw)) {
			var kb int64
			if f := strings.Fields(line); len(f) > 1 && f[0] == "MemTotal:" {
				kb, _ = strconv.ParseInt(f[1], 10, 64)
				own = kb << 10
			}
		}
	}
	for _, path := range []string{"/sys/fs/cgroup/memory.max", "/sys/fs/cgroup/memory/memory.limit_in_bytes"} {
		if raw, err := os.ReadFile(path); err == nil {
			if n, err := strconv.ParseInt(strings.TrimSpace(string(raw)), 10, 64); err == nil && n > 0 {
				own = min(own, n)
			}
		}
	}
	if own == math.MaxInt64 { // another system: what most machines have
		own = 8 << 30
	}
	return max(leastBytes, own/2)
}
