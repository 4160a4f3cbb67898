package recipe

import (
	"fmt"
	"slices"

	"bildhauer/core/terms"
)

// Motion is how the scene changes over time.
type Motion struct {
	Rate    int     `json:"rate,omitempty"`                     // frames a second, one of terms.Rates; 0 for 25
	Frames  int     `json:"frames,omitempty" figure:"clip"`     // how many there are; 0 for a still
	Shutter float64 `json:"shutter,omitempty" figure:"shutter"` // share of a frame that it is open, for motion blur; 0 for none
	Tracks  []Track `json:"tracks,omitempty" count:"tracks"`    // what changes
	Paths   []Path  `json:"paths,omitempty" count:"paths"`      // ways in space, one for each thing at most
	Reach   float64 `json:"reach,omitempty" figure:"place"`     // of a move kept by its name: half the diagonal of the piece that it was made on, mm
}

// Track is one figure over time. Values are added to what the scene has at rest; sizes
// multiply it.
type Track struct {
	Of   string `json:"of"`   // OfPiece, OfCamera, OfScene, the id of a part, or the name of a lamp
	What string `json:"what"` // one of terms.Tracks
	// Into is the part that a part turns into, of Becoming.
	Into string `json:"into,omitempty"`
	Keys []Key  `json:"keys"` // in the order of their frames
}

// Key is the value of a figure at a frame.
type Key struct {
	Frame float64    `json:"frame" figure:"clip"`  // from 0
	Value float64    `json:"value" figure:"place"` // then
	Color string     `json:"color,omitempty"`      // #rrggbb, of a colour that changes
	Ease  string     `json:"ease,omitempty"`       // of the way to the next key, one of terms.Names("ease")
	Curve [4]float64 `json:"curve,omitzero"`       // x, y, x, y: handles of a drawn way, shares of the way
	// Spring is how a spring swings: how often until the next key, and how many times weaker its swings become by
	// then, as the exponent of e; zero for 3 and 6.
	Spring [2]float64 `json:"spring,omitzero"`
}

// What tracks belong to beside parts and lamps.
const (
	OfPiece  = "piece"
	OfCamera = "camera"
	OfScene  = "scene"
)

// Figures of a part that make another solid of it at each frame, as shares: how much of it is written, and how much of
// it has become another part.
const (
	Written  = "written"
	Becoming = "becoming"
)

// PerSecond returns the frames a second.
func (m *Motion) PerSecond() int {
	if m.Rate == 0 {
		return terms.Rates[0]
	}
	return m.Rate
}

func (m Motion) clone() Motion {
	m.Tracks = slices.Clone(m.Tracks)
	for i := range m.Tracks {
		m.Tracks[i].Keys = slices.Clone(m.Tracks[i].Keys)
	}
	m.Paths = slices.Clone(m.Paths)
	for i := range m.Paths {
		m.Paths[i] = m.Paths[i].clone()
	}
	return m
}

func (m *Motion) check() error {
	if m.Rate != 0 && !slices.Contains(terms.Rates, m.Rate) {
		return fmt.Errorf("a clip has 24, 25, 30, 50 or 60 frames a second, not %d", m.Rate)
	}
	if err := terms.CheckTags(m); err != nil {
		return err
	}
	seen := map[string]bool{}
	for i := range m.Paths {
		p := &m.Paths[i]
		if seen[p.Of] {
			return fmt.Errorf("%.40q has two paths; a thing follows one", p.Of)
		}
		seen[p.Of] = true
		if err := p.check(); err != nil {
			return err
		}
	}
	for i := range m.Tracks {
		if err := m.Tracks[i].check(); err != nil {
			return err
		}
	}
	return nil
}

func (t *Track) check() error {
	if !slices.Contains(terms.TrackNames(), t.What) {
		return fmt.Errorf("there is nothing called %.40q that moves", t.What)
	}
	if err := terms.Of("keys").Check(float64(len(t.Keys))); err != nil {
		return err
	}
	if t.What == Becoming && (t.Into == "" || t.Into == t.Of) {
		return fmt.Errorf("a part becomes another one of the piece; choose which")
	}
	for i, k := range t.Keys {
		if err := checkAll([]figure{{terms.Of("place"), k.Value}, {terms.Of("clip"), k.Frame}}); err != nil {
			return err
		}
		if k.Ease != "" && !slices.Contains(terms.Names("ease"), k.Ease) {
			return terms.Pick("ease").Refuse(k.Ease)
		}
		if err := checkColor("A key", k.Color); err != nil {
			return err
		}
		if t.What == "colour" && k.Color == "" {
			return fmt.Errorf("key %d of a colour has none", i+1)
		}
		if k.Spring != [2]float64{} {
			if err := checkAll([]figure{{terms.Of("swings"), k.Spring[0]}, {terms.Of("damping"), k.Spring[1]}}); err != nil {
				return err
			}
		}
		// Time does not run backwards; values may pass their ends.
		if err := checkAll([]figure{
			{terms.Of("share"), k.Curve[0]}, {terms.Of("share"), k.Curve[2]}, {terms.Of("handle"), k.Curve[1]}, {terms.Of("handle"), k.Curve[3]},
		}); err != nil {
			return err
		}
		if i > 0 && k.Frame <= t.Keys[i-1].Frame {
			return fmt.Errorf("key %d of %s comes at frame %g, not after the one before", i+1, t.What, k.Frame)
		}
	}
	return nil
}
