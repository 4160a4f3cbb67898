package stages

import (
	"cmp"
	"slices"

	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// cornerGap is half the width, in grid units, of the squares by which areas are kept
// apart that meet in a point: about 1e-5 of half the size, as in raise.
const cornerGap = 160

// Lying is a part that lies on another one, by its role: what is raised is one body with it and cuts
// all others.
type Lying struct {
	ID, On string
	Kind   string // recipe.Recess, recipe.Raised or recipe.Resting
	Out    bool   `json:",omitempty"` // it was left out: then it takes from nothing
}

// stacking resolves which part shows where.
type stacking struct {
	in    *RegionsInput
	parts []ChosenPart
	stop  func() bool
	tell  func(what string, share float64)
}

// resolve returns the region of each part by its number from 1. Where overlaps are cut,
// bodies cut those below them; what lies on another part cuts that not, but is cut by
// what covers it itself; what rests cuts nothing but what rests, too: there is room below
// it; what lies behind is cut by nothing.
func (s *stacking) resolve(layers []plane.Layer) (map[int32]plane.Region, error) {
	if s.in.Overlap != recipe.Cut {
		return s.alone(layers, func(int32) bool { return true })
	}
	over, raised := s.over, func(label int32) bool { l, ok := s.lying(label); return ok && l.Kind == recipe.Raised && !l.Out }
	behind := func(label int32) bool { return slices.Contains(s.in.Behind, s.parts[label-1].ID) }
	var bodies, cutting, front []plane.Layer
	lying, melded := false, false
	for _, l := range layers {
		if behind(l.Label) {
			continue
		}
		if lies, ok := s.lying(l.Label); !ok || !lies.Out {
			front = append(front, l)
		}
		if over(l.Label) {
			lying = true
		} else {
			bodies = append(bodies, l)
		}
		if !over(l.Label) || raised(l.Label) {
			cutting = append(cutting, l)
			melded = melded || raised(l.Label)
		}
	}
	out, err := s.alone(layers, behind)
	if err != nil {
		return nil, err
	}
	cut, err := s.partition(bodies)
	if err != nil {
		return nil, err
	}
	for label, r := range cut {
		out[label] = r
	}
	if melded { // what is raised from one body cuts the others
		if cut, err = s.partition(cutting); err != nil {
			return nil, err
		}
		for label := range out {
			if !over(label) && !behind(label) && !s.hosts(label) {
				out[label] = cut[label]
			}
		}
	}
	if !lying {
		return out, nil
	}
	return out, s.covered(front, out)
}

// covered leaves of what lies on another part what can be seen of it from the front: of what rests all
// that nothing covers, of what is cut into another part or raised from it what nothing but that covers.
func (s *stacking) covered(front []plane.Layer, out map[int32]plane.Region) error {
	rests := func(label int32) bool { l, _ := s.lying(label); return l.Kind == recipe.Resting }
	var below []plane.Layer
	some := false
	for _, l := range front {
		if !rests(l.Label) {
			below = append(below, l)
		}
		some = some || rests(l.Label)
	}
	seen, err := plane.Stack(below, s.stop)
	if err != nil {
		return err
	}
	for label, r := range seen {
		if s.over(label) {
			out[label] = r
		}
	}
	if !some {
		return nil
	}
	if seen, err = plane.Stack(front, s.stop); err != nil {
		return err
	}
	for label := range s.parts {
		label := int32(label) + 1
		if !rests(label) {
			continue
		}
		out[label] = seen[label]
		others := slices.DeleteFunc(slices.Clone(front), func(l plane.Layer) bool { return s.standsOn(l.Label, label) })
		if len(others) == len(front) {
			continue
		}
		own, err := plane.Stack(others, s.stop) // what stands on it takes nothing from it
		if err != nil {
			return err
		}
		out[label] = own[label]
	}
	return nil
}

// standsOn reports whether a part belongs to another one, rests on it or on what rests on it.
func (s *stacking) standsOn(label, on int32) bool {
	for range s.parts { // no more than all, whoever rests on whom
		l, ok := s.lying(label)
		if !ok {
			return false
		}
		if label = s.labelOf(l.On); label == 0 || label == on {
			return label == on
		}
	}
	return false
}

// labelOf returns the number of a part, from 1; 0 if there is no such part.
func (s *stacking) labelOf(id string) int32 {
	return int32(slices.IndexFunc(s.parts, func(p ChosenPart) bool { return p.ID == id })) + 1
}

// lying returns how a part lies on another one, if it does.
func (s *stacking) lying(label int32) (Lying, bool) {
	for _, l := range s.in.Over {
		if l.ID == s.parts[label-1].ID {
			return l, true
		}
	}
	return Lying{}, false
}

func (s *stacking) over(label int32) bool {
	_, ok := s.lying(label)
	return ok
}

// hosts reports whether something is raised from a part.
func (s *stacking) hosts(label int32) bool {
	id := s.parts[label-1].ID
	return slices.ContainsFunc(s.in.Over, func(l Lying) bool { return l.Kind == recipe.Raised && l.On == id })
}

// partition cuts layers from each other. One part alone has nothing to share.
func (s *stacking) partition(layers []plane.Layer) (map[int32]plane.Region, error) {
	one := true
	for _, l := range layers {
		one = one && l.Label == layers[0].Label
	}
	if one {
		return plane.Stack(layers, s.stop)
	}
	return plane.Partition(layers, cornerGap, s.stop)
}

// alone resolves the parts that want says each by itself.
func (s *stacking) alone(layers []plane.Layer, want func(label int32) bool) (map[int32]plane.Region, error) {
	own := map[int32][]plane.Layer{}
	for _, l := range layers {
		if want(l.Label) {
			own[l.Label] = append(own[l.Label], l)
		}
	}
	out := map[int32]plane.Region{}
	for label := int32(1); label <= int32(len(s.parts)); label++ {
		if len(own[label]) == 0 {
			continue
		}
		one, err := plane.Stack(own[label], s.stop)
		if err != nil {
			return nil, err
		}
		out[label] = one[label]
	}
	return out, nil
}

// clear leaves the clearance between all bodies, with what is raised from them. Each keeps off the whole
// of those before it, as they are by then, and by half from what those after it are still to lose: so
// that whatever lies between two of them already, they are at least as far apart. What rests on another
// part keeps off what covers it.
func (s *stacking) clear(regions map[int32]plane.Region) error {
	d := s.in.Step.Units(s.in.Clearance)
	fine := max(1, d/500)
	// Rings are drawn with chords inside the circle; the rest of a per cent makes up.
	style := plane.OffsetStyle{ArcTol: fine, Simplify: 0, Stop: s.stop}
	c := clearing{stacking: s, regions: regions, covers: map[int32]plane.Region{}, raised: map[int32][]int32{}, kept: map[int32]map[plane.Units]plane.Region{}}
	c.grown = func(r plane.Region, by plane.Units) (plane.Region, error) { return r.Offset(by+2*fine, style) }
	var labels, resting []int32
	for label := int32(1); label <= int32(len(s.parts)); label++ {
		if len(regions[label]) == 0 || slices.Contains(s.in.Behind, s.parts[label-1].ID) {
			continue
		}
		switch l, lies := s.lying(label); {
		case !lies:
			labels = append(labels, label)
		case l.Out:
		case l.Kind == recipe.Raised:
			on := s.labelOf(l.On)
			c.raised[on] = append(c.raised[on], label)
		case l.Kind == recipe.Resting:
			resting = append(resting, label)
		}
	}
	for _, label := range append(slices.Clone(labels), resting...) {
		if err := c.cover(label); err != nil {
			return err
		}
	}
	beside := neighbours(labels, c.covers, d)
	for i, label := range labels {
		s.tell("Keeping the parts apart", float64(i)/float64(len(labels)))
		for _, other := range beside(label) {
			by := d
			if other > label {
				by = d / 2
			}
			if err := c.keepOff(label, other, d, by); err != nil {
				return err
			}
		}
		if err := c.cover(label); err != nil {
			return err
		}
	}
	for _, label := range slices.Backward(resting) {
		for _, other := range append(slices.Clone(labels), resting...) {
			if other < label || s.standsOn(other, label) || s.standsOn(label, other) {
				continue
			}
			if err := c.keepOff(label, other, d, d); err != nil {
				return err
			}
		}
		if err := c.cover(label); err != nil {
			return err
		}
	}
	return nil
}

// clearing is regions that are brought apart.
type clearing struct {
	*stacking
	regions map[int32]plane.Region
	raised  map[int32][]int32      // the details that are raised from a body
	covers  map[int32]plane.Region // what bodies cover with those
	grown   func(r plane.Region, by plane.Units) (plane.Region, error)
	kept    map[int32]map[plane.Units]plane.Region // all that is so near to a body, as long as its cover stays what it is
}

// cover works out what a body covers.
func (c *clearing) cover(label int32) (err error) {
	r := c.regions[label]
	for _, d := range c.raised[label] {
		if r, err = plane.CombineUntil(c.stop, r, c.regions[d], plane.Union); err != nil {
			return err
		}
	}
	c.covers[label] = r
	c.kept[label] = map[plane.Units]plane.Region{}
	return nil
}

// keepOff takes from a body and what is raised from it all that is less than by beside another one; those
// d apart or more need nothing.
func (c *clearing) keepOff(label, other int32, d, by plane.Units) error {
	if c.stop() {
		return plane.ErrStopped
	}
	if label == other || len(c.covers[other]) == 0 || !near(c.covers[label], c.covers[other], d) {
		return nil
	}
	whole, have := c.kept[other][by]
	if !have {
		var err error
		if whole, err = c.grown(c.covers[other], by); err != nil {
			return err
		}
		c.kept[other][by] = whole
	}
	var err error
	keep := slices.DeleteFunc(slices.Clone(whole), func(p plane.Polygon) bool { return !near(c.covers[label], plane.Region{p}, 0) })
	if len(keep) == 0 {
		return nil
	}
	for _, l := range append([]int32{label}, c.raised[label]...) {
		if c.regions[l], err = plane.CombineUntil(c.stop, c.regions[l], keep, plane.Subtract); err != nil {
			return err
		}
	}
	return nil
}

// neighbours returns what lists, in order, the regions that may be less than d beside one, by their
// sides as they are now: regions only become smaller.
func neighbours(labels []int32, regions map[int32]plane.Region, d plane.Units) func(label int32) []int32 {
	left, right := map[int32]int32{}, map[int32]int32{}
	widest := int32(0)
	for _, label := range labels {
		lo, hi, _ := regions[label].Bounds()
		left[label], right[label] = lo.X, hi.X
		widest = max(widest, hi.X-lo.X)
	}
	rows := slices.SortedFunc(slices.Values(labels), func(a, b int32) int { return cmp.Compare(left[a], left[b]) })
	by := int32(d) + 2
	return func(label int32) []int32 {
		from, _ := slices.BinarySearchFunc(rows, left[label]-by-widest, func(l, x int32) int { return cmp.Compare(left[l], x) })
		var out []int32
		for _, l := range rows[from:] {
			if left[l] > right[label]+by {
				break
			}
			out = append(out, l)
		}
		slices.Sort(out)
		return out
	}
}

// near reports whether the boxes of two regions are less than d apart.
func near(a, b plane.Region, d plane.Units) bool {
	alo, ahi, ok := a.Bounds()
	blo, bhi, also := b.Bounds()
	return ok && also && beside(alo, ahi, blo, bhi, int32(d)+2)
}

// beside reports whether two boxes are at most by apart.
func beside(alo, ahi, blo, bhi plane.Point, by int32) bool {
	return alo.X-by <= bhi.X && blo.X-by <= ahi.X && alo.Y-by <= bhi.Y && blo.Y-by <= ahi.Y
}
