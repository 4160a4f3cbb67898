// Package patience says how long tests wait for what must come at last: as long as they may run, so
// that a machine that has much else to do fails none.
package patience

import (
	"testing"
	"time"
)

// spare is left to say what did not come.
const spare = 20 * time.Second

// Of returns how long a test may wait.
func Of(t testing.TB) time.Duration {
	if d, ok := t.(interface{ Deadline() (time.Time, bool) }); ok {
		if end, limited := d.Deadline(); limited {
			return max(spare, time.Until(end)-spare)
		}
	}
	return time.Hour
}
