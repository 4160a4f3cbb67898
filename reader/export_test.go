package reader

import (
	"fmt"
	"os"
	"strings"
)

// Peak returns the most memory in MB that the reader which waits has held, 0 where none waits.
func (p *Pool) Peak() (mb int) {
	p.mu.Lock()
	defer p.mu.Unlock()
	for _, c := range p.idle {
		status, _ := os.ReadFile(fmt.Sprintf("/proc/%d/status", c.cmd.Process.Pid))
		_, rest, _ := strings.Cut(string(status), "VmHWM:")
		kb := 0
		fmt.Sscan(rest, &kb)
		mb = max(mb, kb>>10)
	}
	return mb
}
