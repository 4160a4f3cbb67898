package recipe

import (
	"errors"
	"slices"

	"bildhauer/core/terms"

	"bildhauer/core/artwork"
)

// Path is a way in space that something follows: the track "along" of the same thing tells how far it is, as a share.
// Points of the piece and of parts are how far they are from where they rest; those of the camera and of lamps are
// places from the middle of the piece.
type Path struct {
	Of     string      `json:"of"`               // whose it is, as in a track
	Points []PathPoint `json:"points"`           // from start to end
	Closed bool        `json:"closed,omitempty"` // it leads back to its start
	Even   bool        `json:"even,omitempty"`   // equal shares are equally long, else each piece between points takes as much
	Faces  bool        `json:"faces,omitempty"`  // what follows it turns its right side the way it goes; a camera looks ahead
}

// PathPoint is a place that a path goes through.
type PathPoint struct {
	At     [3]float64 `json:"at"`               // mm: right, up, toward the eye
	Lead   [3]float64 `json:"lead,omitzero"`    // the handle toward the next point, mm from At; zero for one that makes the path smooth
	Trail  [3]float64 `json:"trail,omitzero"`   // the handle toward the one before; zero for the opposite of Lead
	Corner bool       `json:"corner,omitempty"` // straight toward both neighbours, without handles
}

// Along is what tells how far something is along its path.
const Along = "along"

// PathOf returns the path of something, or nil.
func (m *Motion) PathOf(of string) *Path {
	if i := slices.IndexFunc(m.Paths, func(p Path) bool { return p.Of == of }); i >= 0 {
		return &m.Paths[i]
	}
	return nil
}

func (p Path) clone() Path {
	p.Points = slices.Clone(p.Points)
	return p
}

func (p *Path) check() error {
	if err := terms.Of("points").Check(float64(len(p.Points))); err != nil {
		return err
	}
	if p.Of == OfScene || p.Of == "" {
		return errors.New("a path is that of the piece, a part, the camera or a lamp")
	}
	var list []figure
	same := true
	for _, q := range p.Points {
		for _, v := range [][3]float64{q.At, q.Lead, q.Trail} {
			list = append(list, figure{terms.Of("place"), v[0]}, figure{terms.Of("place"), v[1]}, figure{terms.Of("place"), v[2]})
		}
		same = same && q.At == p.Points[0].At
	}
	if same {
		return errors.New("a path goes through two places at least")
	}
	return checkAll(list)
}

// SetPath gives something a path, in the place of the one that it has; without points it loses it, and what tells how
// far along it is.
type SetPath struct {
	Path Path `json:"path"`
}

// Apply is part of Edit.
func (e *SetPath) Apply(r *Recipe, _ *artwork.Sheet) error {
	m := &r.Scene.Motion
	at := slices.IndexFunc(m.Paths, func(p Path) bool { return p.Of == e.Path.Of })
	switch {
	case len(e.Path.Points) == 0 && at < 0:
		return errors.New("this path is not there any more")
	case len(e.Path.Points) == 0:
		m.Paths = slices.Delete(slices.Clone(m.Paths), at, at+1)
		m.Tracks = slices.DeleteFunc(slices.Clone(m.Tracks), func(t Track) bool { return t.Of == e.Path.Of && t.What == Along })
	case at < 0:
		m.Paths = append(slices.Clone(m.Paths), e.Path.clone())
	default:
		m.Paths = slices.Clone(m.Paths)
		m.Paths[at] = e.Path.clone()
	}
	return nil
}
