package show

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"bildhauer/core/terms"

	"bildhauer/core/geom"
	"bildhauer/core/recipe"
)

// Act asks for a ready move.
type Act struct {
	Move   string   `json:"move"`
	Parts  []string `json:"parts"`                     // that make it; none for the piece as a whole
	From   float64  `json:"from" figure:"clip"`        // the first frame
	Frames float64  `json:"frames"`                    // how long it takes
	Order  string   `json:"order" choice:"order,zero"` // one of the choice "order"
	Delay  float64  `json:"delay"`                     // frames from one to the next
	// Overlap is by how much of its time one overlaps the next, as a share, where Delay is 0.
	Overlap float64    `json:"overlap"`
	Unit    string     `json:"unit" choice:"unit,zero"`   // what moves as one, one of "unit"; "" for each part
	Pivot   string     `json:"pivot" choice:"pivot,zero"` // one of "pivot"; "" for the own middle, or the edge that a move has
	At      [2]float64 `json:"at"`                        // mm from the middle of the piece: the point that they follow each other from
	Mark    [2]float64 `json:"mark"`                      // the same: the point that they turn about, where Pivot says so
	Seed    uint64     `json:"seed"`                      // of the order at random

	Kept *recipe.Motion `json:"-"` // the move of that name which somebody kept; nil for a ready one
}

// Spot is where a part is at rest.
type Spot struct {
	ID     string
	Lo, Hi geom.Vec3
	Layer  string // of the artwork that it comes from; "" for none
}

// sweeping is the lamp of a light sweep.
const sweeping = "Sweep"

func (a *Act) check() error {
	if err := terms.CheckTags(a); err != nil {
		return err
	}
	if a.Kept == nil {
		if err := terms.Pick("move").Check(a.Move); err != nil {
			return err
		}
	}
	if !(a.Overlap >= 0 && a.Overlap <= 1) {
		return fmt.Errorf("the overlap is a share from 0 to 1")
	}
	return nil
}

// Give adds a ready move to a scene of parts. Tracks that it sets take the place of those
// that were there. A scene without motion becomes five seconds long.
func Give(s *recipe.Scene, parts []Spot, a Act) error {
	if err := a.check(); err != nil {
		return err
	}
	m := &s.Motion
	if m.Frames == 0 {
		m.Frames = 5 * m.PerSecond()
	}
	if a.Frames == 0 {
		a.Frames = float64(m.Frames) - a.From
		if a.Kept != nil {
			a.Frames = lasts(a.Kept) * float64(m.PerSecond()) / float64(a.Kept.PerSecond())
		}
	}
	if !(a.Frames > 0) || !(a.Delay >= 0) {
		return fmt.Errorf("a move takes more than 0 frames, and what follows does not come before")
	}
	whole := newBox()
	for _, p := range parts {
		whole.take([3]float64{p.Lo.X, p.Lo.Y, p.Lo.Z})
		whole.take([3]float64{p.Hi.X, p.Hi.Y, p.Hi.Z})
	}
	if a.Move == "light sweep" {
		s.Lamps = withSweep(LampsOf(s, whole.reach()), whole.reach())
	}
	movers := []Spot{{ID: recipe.OfPiece, Lo: whole.lo, Hi: whole.hi}}
	if ofParts := a.Move != "light sweep" && a.Move != "camera round"; ofParts && (len(a.Parts) > 0 || a.Move == "assemble") {
		movers = slices.DeleteFunc(slices.Clone(parts), func(p Spot) bool {
			return len(a.Parts) > 0 && !slices.Contains(a.Parts, p.ID)
		})
	}
	delay := a.Delay
	if delay == 0 && a.Overlap > 0 {
		delay = a.Frames * (1 - a.Overlap)
	}
	middle := whole.middle()
	from := geom.Vec3{X: middle.X + a.At[0], Y: middle.Y + a.At[1]}
	mark := geom.Vec3{X: middle.X + a.Mark[0], Y: middle.Y + a.Mark[1], Z: middle.Z}
	for n, u := range ordered(unitsOf(movers, a.Unit), a.Order, from, a.Seed) {
		begin := a.From
		if a.Order != "" && a.Order != terms.Names("order")[0] {
			begin += float64(n) * delay
		}
		list, paths := a.moves(u, whole)
		list = u.share(list, a.Pivot, mark)
		for _, p := range u.parts { // pivots of earlier moves hold no more
			drop(m, p.ID, "pivot right")
			drop(m, p.ID, "pivot up")
		}
		for _, t := range list {
			pivot := t.What == "pivot right" || t.What == "pivot up"
			if len(t.Keys) == 2 && math.Abs(t.Keys[0].Value-t.Keys[1].Value) < 1e-6 || pivot && math.Abs(t.Keys[0].Value) < 1e-6 {
				continue
			}
			for k := range t.Keys {
				if !pivot {
					t.Keys[k].Frame += begin
				}
			}
			drop(m, t.Of, t.What)
			m.Tracks = append(m.Tracks, t)
		}
		for _, p := range paths {
			m.Paths = append(slices.DeleteFunc(slices.Clone(m.Paths), func(o recipe.Path) bool { return o.Of == p.Of }), p)
		}
	}
	return nil
}

// moves returns the tracks of a unit, of its first part, and the paths of all its parts.
func (a *Act) moves(u unit, whole *box) ([]recipe.Track, []recipe.Path) {
	if a.Kept == nil {
		return move(a.Move, u.spot(), whole, a.Frames), nil
	}
	large := 1.0
	if a.Kept.Reach > 0 {
		large = whole.reach() / a.Kept.Reach
	}
	stretch := a.Frames / math.Max(lasts(a.Kept), 1e-9)
	var list []recipe.Track
	for _, t := range a.Kept.Tracks {
		if t.Of == recipe.OfMover {
			t.Of = u.parts[0].ID
		}
		t.Keys = slices.Clone(t.Keys)
		for k := range t.Keys {
			t.Keys[k].Frame *= stretch
			if slices.Contains(lengths, t.What) {
				t.Keys[k].Value *= large
			}
		}
		list = append(list, t)
	}
	var paths []recipe.Path
	for _, p := range a.Kept.Paths {
		of := []string{p.Of}
		if p.Of == recipe.OfMover {
			of = of[:0]
			for _, q := range u.parts {
				of = append(of, q.ID)
			}
		}
		for _, id := range of {
			q := p
			q.Of, q.Points = id, nil
			for _, at := range p.Points {
				for _, v := range []*[3]float64{&at.At, &at.Lead, &at.Trail} {
					for k := range v {
						v[k] *= large
					}
				}
				q.Points = append(q.Points, at)
			}
			paths = append(paths, q)
		}
	}
	return list, paths
}

// lengths is what moves by millimetres: on a larger piece it moves farther.
var lengths = []string{"right", "up", "ahead", "pivot right", "pivot up", "distance", "aim right", "aim up", "aim ahead"}

// lasts is how long a kept move takes, frames.
func lasts(m *recipe.Motion) float64 {
	last := 0.0
	for i := range m.Tracks {
		last = math.Max(last, m.Tracks[i].Keys[len(m.Tracks[i].Keys)-1].Frame)
	}
	return math.Max(last, 1)
}

// drop takes out a track, if there is one.
func drop(m *recipe.Motion, of, what string) {
	m.Tracks = slices.DeleteFunc(slices.Clone(m.Tracks), func(o recipe.Track) bool { return o.Of == of && o.What == what })
}

// withSweep adds the lamp of a light sweep, a tall narrow panel in front.
func withSweep(lamps []recipe.Lamp, reach float64) []recipe.Lamp {
	if slices.ContainsFunc(lamps, func(l recipe.Lamp) bool { return l.Name == sweeping }) {
		return lamps
	}
	return append(lamps, recipe.Lamp{
		Kind: "panel", Name: sweeping, At: [3]float64{0, 0.4 * reach, 1.6 * reach}, Size: [2]float64{0.3 * reach, 2.4 * reach},
		Strength: 0.5,
	})
}

// ordered returns units in the order in which they move; from is the point that they may follow each other from.
func ordered(units []unit, order string, from geom.Vec3, seed uint64) []unit {
	list := slices.Clone(units)
	by := func(f func(u *unit) float64) {
		slices.SortStableFunc(list, func(a, b unit) int { return cmp.Compare(f(&a), f(&b)) })
	}
	switch order {
	case "left to right":
		by(func(u *unit) float64 { return u.box.middle().X })
	case "right to left":
		by(func(u *unit) float64 { return -u.box.middle().X })
	case "top down":
		by(func(u *unit) float64 { return -u.box.middle().Y })
	case "from the middle":
		center := 0.0
		for _, u := range list {
			center += u.box.middle().X / float64(len(list))
		}
		by(func(u *unit) float64 { return math.Abs(u.box.middle().X - center) })
	case "from a point":
		by(func(u *unit) float64 {
			d := u.box.middle().Sub(from)
			return math.Hypot(d.X, d.Y)
		})
	case "at random":
		r := rand.New(rand.NewPCG(seed, 0))
		r.Shuffle(len(list), func(i, j int) { list[i], list[j] = list[j], list[i] })
	}
	return list
}

// move returns the tracks of a ready move of one thing over so many frames.
func move(name string, p Spot, whole *box, frames float64) []recipe.Track {
	track := func(of, what string, keys ...recipe.Key) recipe.Track {
		return recipe.Track{Of: of, What: what, Keys: keys}
	}
	own := func(what string, keys ...recipe.Key) recipe.Track { return track(p.ID, what, keys...) }
	key := func(share, value float64, ease string) recipe.Key {
		return recipe.Key{Frame: share * frames, Value: value, Ease: ease}
	}
	r := whole.reach()
	high := whole.hi.Y - whole.lo.Y
	switch name {
	case "turntable": // the frame after the last one is the first again
		return []recipe.Track{own("turn", key(0, 0, "even"), key(1, 360, ""))}
	case "rise":
		return []recipe.Track{own("up", key(0, -1.1*high, "soft out"), key(0.8, 0, ""))}
	case "drop in":
		return []recipe.Track{
			own("up", key(0, 3*r, "soft in"), key(0.5, 0, "")),
			own("size", key(0.5, 1, "both"), key(0.6, 0.94, "both"), key(0.75, 1, "")),
		}
	case "swing open":
		return []recipe.Track{own("turn", key(0, -90, "overshoot"), key(0.7, 0, ""))}
	case "unroll from the left": // each thing turns down on its left edge, as a blind unrolls
		return []recipe.Track{
			own("swing", key(0, -170, "soft out"), key(0.8, 0, "")), own("size", key(0, 0.02, "soft out"), key(0.3, 1, "")),
		}
	case "spring out":
		return []recipe.Track{own("size", key(0, 0, "spring"), key(1, 1, ""))}
	case "write":
		return []recipe.Track{own(recipe.Written, key(0, 0, "even"), key(1, 1, ""))}
	case "bounce in":
		return []recipe.Track{own("up", key(0, 1.4*high, "bounce"), key(1, 0, ""))}
	case "assemble":
		out := p.Lo.Add(p.Hi).Times(0.5).Sub(whole.middle())
		if out.Len() < 1e-3*r {
			out = geom.Vec3{Y: 1}
		}
		out = out.Unit().Times(1.6 * r)
		return []recipe.Track{
			own("right", key(0, out.X, "soft out"), key(0.85, 0, "")), own("up", key(0, out.Y, "soft out"), key(0.85, 0, "")),
			own("ahead", key(0, 1.2*r, "soft out"), key(0.85, 0, "")), own("lean", key(0, 70, "soft out"), key(0.85, 0, "")),
		}
	case "light sweep":
		return []recipe.Track{
			track(sweeping, "right", key(0, -3*r, "both"), key(1, 3*r, "")),
			track(sweeping, "aim right", key(0, -0.8*r, "both"), key(1, 0.8*r, "")),
		}
	}
	return []recipe.Track{track(recipe.OfCamera, "turn", key(0, -40, "both"), key(1, 40, ""))}
}
