// Package raise turns regions of the plane into solids: a height over the
// region that grows from its outline inward along a profile, walls down from
// the outline, and a back.
//
// The front is a single-valued height over a valid triangulation of the
// region, so it cannot cross itself, whatever the outline: soundness does not
// rest on the distances being right, only the looks do.
package raise

import (
	"fmt"
	"math"
)

// Profile is the form of a bevel, named after mouldings.
type Profile string

// The profiles known so far.
const (
	Chamfer Profile = "chamfer" // straight
	Round   Profile = "round"   // quarter of an ellipse, upright at the rim, level inside
)

// Profiles lists all.
var Profiles = []Profile{Chamfer, Round}

// Valid returns an error that names the profiles if p is none of them.
func (p Profile) Valid() error {
	for _, q := range Profiles {
		if p == q {
			return nil
		}
	}
	return fmt.Errorf("unknown profile %q; there are %v", string(p), Profiles)
}

// Bevel describes one bevelled rim, lengths in mm.
type Bevel struct {
	Profile  Profile
	Width    float64 // how far it reaches inward
	Height   float64 // how far it reaches down
	Segments int     // facets across
}

// On reports whether the bevel takes anything away.
func (b Bevel) On() bool { return b.Width > 0 && b.Height > 0 && b.Segments > 0 }

// levels returns where the facets meet: ts are shares of the width from the
// outline inward (0 to 1), fs the shares of the height reached there. No step
// of ts is shorter than least.
func (b Bevel) levels(least float64) (ts, fs []float64) {
	n := b.Segments
	if b.Profile == Chamfer {
		n = 1 // more facets of one plane would change nothing
	}
	for ; n >= 1; n-- {
		ts, fs = []float64{0}, []float64{0}
		for i := 1; i <= n; i++ {
			t, f := float64(i)/float64(n), float64(i)/float64(n)
			if b.Profile == Round {
				s, c := math.Sincos(math.Pi / 2 * float64(i) / float64(n))
				t, f = 1-c, s
			}
			ts, fs = append(ts, t), append(fs, f)
		}
		ts[n], fs[n] = 1, 1
		if ts[1] >= least {
			break
		}
	}
	return ts, fs
}

// slope returns df/dt of the ideal profile at share t, for shading.
func (b Bevel) slope(t float64) float64 {
	if b.Profile == Round {
		c := math.Max(0, 1-t)
		return c / math.Sqrt(math.Max(1e-6, 1-c*c))
	}
	return 1
}
