package stages

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// ReliefRule says whether parts step up as they lie on each other.
type ReliefRule struct {
	On    bool
	Lines bool     // dark outlines are parts of their own
	Out   []string // parts that nothing lies on, because they are left out
}

// What counts as lying on something: so much of what is seen of the upper one lies on it, or so much of the
// lower one is covered by it. A rim that touches is less than either.
const (
	liesBy   = 1.0 / 20
	coversBy = 1.0 / 4
)

// mostUnder is how many layers below what is seen are looked at in each place. What lies deeper is below
// those, which lie on it in turn.
const mostUnder = 40

// levelling finds out what lies on what. Its units are single shapes of parts that may be divided, and other
// parts as wholes.
type levelling struct {
	units  []unit
	unitOf []int32 // of each layer; -1 for none
	over   map[[2]int32]float64
}

// unit is what has one level.
type unit struct {
	label  int32
	single bool // a shape of a part that may be divided
	out    bool
	line   bool
	shows  float64 // area that is seen, units squared
	covers float64 // area that it has
	level  int
	on     []int32 // units that it lies on
}

// levels divides the parts of d by the levels of their shapes, and notes what lies on what.
func (s *stacking) levels(d *divided, sheet *artwork.Sheet) error {
	v := &levelling{over: map[[2]int32]float64{}}
	v.enlist(s, d, sheet)
	if err := v.measure(d.layers, s.stop); err != nil {
		return err
	}
	v.link()
	v.rank()
	v.divide(s, d)
	return nil
}

// enlist makes the units.
func (v *levelling) enlist(s *stacking, d *divided, sheet *artwork.Sheet) {
	whole := map[int32]int32{}
	v.unitOf = make([]int32, len(d.layers))
	for k := range d.layers {
		label := d.layers[k].Label
		p := &d.parts[label-1]
		v.unitOf[k] = -1
		if s.aside(p.ID) {
			continue
		}
		n, have := whole[label]
		if !have {
			n = int32(len(v.units))
			v.units = append(v.units, unit{label: label, single: p.ByColour, out: slices.Contains(s.in.Relief.Out, p.ID)})
			if !p.ByColour {
				whole[label] = n
			}
		}
		v.unitOf[k] = n
		if s.in.Relief.Lines && p.ByColour {
			v.units[n].line = outlining(&sheet.Shapes[d.of[k]], p.Color, &d.layers[k])
		}
	}
}

// aside reports whether a part has no level: it belongs to another one, lies behind all or is a tube.
func (s *stacking) aside(id string) bool {
	over := slices.ContainsFunc(s.in.Over, func(l Lying) bool { return l.ID == id })
	tube := slices.ContainsFunc(s.in.Tubes, func(t TubeRule) bool { return t.ID == id })
	return over || tube || slices.Contains(s.in.Behind, id)
}

// outlineSlender is how many times narrower than long an outline is on average, where it is an area and not
// a stroke.
const outlineSlender = 12

// outlining reports whether a shape is a dark line. Letters are none.
func outlining(sh *artwork.Shape, color artwork.Color, l *plane.Layer) bool {
	if sh.Text != "" || !color.Dark() {
		return false
	}
	if sh.Stroke != nil {
		return true
	}
	area, length := 0.0, 0.0
	lo, hi := [2]float64{math.Inf(1), math.Inf(1)}, [2]float64{math.Inf(-1), math.Inf(-1)}
	for _, loop := range l.Loops {
		for i, p := range loop {
			q := loop[(i+1)%len(loop)]
			px, py, qx, qy := float64(p.X), float64(p.Y), float64(q.X), float64(q.Y)
			area += (px*qy - qx*py) / 2
			length += math.Hypot(qx-px, qy-py)
			lo, hi = [2]float64{min(lo[0], px), min(lo[1], py)}, [2]float64{max(hi[0], px), max(hi[1], py)}
		}
	}
	// A line has its length on both sides.
	return length > 0 && outlineSlender*2*math.Abs(area)/length < max(hi[0]-lo[0], hi[1]-lo[1])
}

// measure adds up which unit is seen over which.
func (v *levelling) measure(layers []plane.Layer, stop func() bool) error {
	var taken []plane.Layer
	var index []int
	for k := range layers {
		if v.unitOf[k] >= 0 {
			taken, index = append(taken, layers[k]), append(index, k)
		}
	}
	piles, err := plane.Piles(taken, mostUnder, stop)
	if err != nil {
		return err
	}
	var below []int32
	for _, p := range piles {
		area := float64(p.Area2) / 2
		top := v.unitOf[index[p.Layers[0]]]
		below = below[:0]
		for _, l := range p.Layers {
			below = append(below, v.unitOf[index[l]])
		}
		slices.Sort(below)
		below = slices.Compact(below)
		v.units[top].shows += area
		for _, u := range below {
			v.units[u].covers += area
			if u != top && !v.units[u].out && !v.units[top].out {
				v.over[[2]int32{top, u}] += area
			}
		}
	}
	return nil
}

// link lists what each unit lies on, in order.
func (v *levelling) link() {
	for pair, area := range v.over {
		a, b := &v.units[pair[0]], &v.units[pair[1]]
		if area < v.over[[2]int32{pair[1], pair[0]}] || area == v.over[[2]int32{pair[1], pair[0]}] && pair[0] < pair[1] {
			continue // two parts of several shapes lie on each other: the one that does so more
		}
		hidden := b.shows <= b.covers*1e-6
		if !hidden && (area >= liesBy*a.shows || area >= coversBy*b.covers) {
			a.on = append(a.on, pair[1])
		}
	}
	for i := range v.units {
		slices.Sort(v.units[i].on)
	}
}

// rank gives each unit its level: one above the highest that it lies on, no less than that of its own part.
func (v *levelling) rank() {
	waits := make([]int, len(v.units)) // for so many below it
	over := make([][]int32, len(v.units))
	var ready []int32
	for i := range v.units {
		u := &v.units[i]
		u.level = 1
		waits[i] = len(u.on)
		for _, b := range u.on {
			over[b] = append(over[b], int32(i))
		}
		if waits[i] == 0 {
			ready = append(ready, int32(i))
		}
	}
	for done := 0; done < len(v.units); done++ {
		if len(ready) == 0 {
			ready = append(ready, v.freed(waits, over))
		}
		i := ready[0]
		ready = ready[1:]
		waits[i] = -1
		for _, a := range over[i] {
			if waits[a] < 0 {
				continue
			}
			from, to := &v.units[i], &v.units[a]
			step := 1
			if from.label == to.label {
				step = 0
			}
			to.level = max(to.level, from.level+step)
			if waits[a]--; waits[a] == 0 {
				ready = append(ready, a)
			}
		}
	}
}

// freed chooses, among parts that lie on each other in a circle, the one that lies least on others; what it
// lay on among those that wait counts no more.
func (v *levelling) freed(waits []int, over [][]int32) int32 {
	best, least := int32(-1), math.Inf(1)
	for i := range v.units {
		if waits[i] <= 0 || !slices.ContainsFunc(over[i], func(a int32) bool { return waits[a] > 0 }) {
			continue // nothing that waits lies on it: it is in no circle
		}
		sum := 0.0
		for _, b := range v.units[i].on {
			if waits[b] > 0 {
				sum += v.over[[2]int32{int32(i), b}]
			}
		}
		if sum < least {
			best, least = int32(i), sum
		}
	}
	u := &v.units[best]
	u.on = slices.DeleteFunc(u.on, func(b int32) bool { return waits[b] > 0 })
	return best
}

// divide makes a part of what is on one level of a part.
func (v *levelling) divide(s *stacking, d *divided) {
	type group struct {
		label int32
		level int
		line  bool
	}
	of := func(u *unit) group {
		switch {
		case !u.single:
			return group{label: u.label}
		case u.line:
			return group{label: u.label, line: true}
		}
		return group{label: u.label, level: u.level}
	}
	var groups []group
	have := map[group]bool{}
	for i := range v.units {
		if g := of(&v.units[i]); !have[g] && v.units[i].shows > 0 {
			have[g] = true
			groups = append(groups, g)
		}
	}
	slices.SortFunc(groups, func(a, b group) int {
		if a.line != b.line { // outlines last
			return map[bool]int{true: 1, false: -1}[a.line]
		}
		return cmp.Or(int(a.label-b.label), a.level-b.level)
	})
	count := map[int32]int{}
	ids := map[group]string{}
	for _, g := range groups {
		id := d.parts[g.label-1].ID
		if count[g.label]++; count[g.label] > 1 {
			id = recipe.DividedID(id, count[g.label], g.line)
		}
		ids[g] = id
	}
	// What is not seen stays with the rest of its part.
	parts := d.parts
	idOf := func(k int) string {
		if n := v.unitOf[k]; n >= 0 && ids[of(&v.units[n])] != "" {
			return ids[of(&v.units[n])]
		}
		return parts[d.layers[k].Label-1].ID
	}
	d.regroup(idOf, func(k int) bool { return v.unitOf[k] >= 0 && v.units[v.unitOf[k]].line })
	index := make(map[string]int, len(d.parts))
	for i := range d.parts {
		index[d.parts[i].ID] = i
	}
	for i := range v.units {
		u := &v.units[i]
		if u.shows == 0 {
			continue
		}
		at := index[ids[of(u)]]
		d.levelled[at] = true
		for _, b := range u.on {
			low := &v.units[b]
			if low.label == u.label || s.in.Relief.Lines && (u.line || low.line) || ids[of(low)] == "" {
				continue
			}
			d.on[at] = append(d.on[at], ids[of(low)])
		}
	}
	for i := range d.on {
		slices.Sort(d.on[i])
		d.on[i] = slices.Compact(d.on[i])
	}
}

// Levels returns the level of each part, from 1, and how many there are: one above the highest that it lies
// on, or what was said by hand. Those that take no part in a relief have 0.
func Levels(r *Regions, p *recipe.Parts) (levels []int, most int) {
	levels = make([]int, len(r.Parts))
	if !p.Relief.On() {
		return levels, 0
	}
	index := make(map[string]int, len(r.Parts))
	for i := range r.Parts {
		index[r.Parts[i].ID] = i
	}
	var rise func(i int) int
	rise = func(i int) int {
		o := &r.Parts[i]
		if levels[i] > 0 {
			return levels[i]
		}
		if levels[i] = p.LevelOf(o.ID); levels[i] > 0 {
			return levels[i]
		}
		levels[i] = 1
		for _, id := range o.On {
			if b, ok := index[id]; ok {
				levels[i] = max(levels[i], 1+rise(b))
			}
		}
		return levels[i]
	}
	lines := p.Relief.Lines
	for i := range r.Parts {
		if o := &r.Parts[i]; o.Levelled && !(o.Line && lines != "") {
			most = max(most, rise(i))
		}
	}
	most = placeLines(r, p, levels, most)
	if most > recipe.MostLevels {
		for i, l := range levels {
			levels[i] = (l*recipe.MostLevels + most - 1) / most
		}
		most = recipe.MostLevels
	}
	return levels, most
}

// placeLines sets outlines above all others or below them.
func placeLines(r *Regions, p *recipe.Parts, levels []int, most int) int {
	lines, others := false, most > 0
	for i := range r.Parts {
		lines = lines || r.Parts[i].Line
	}
	if p.Relief.Lines == "" || !lines || !others {
		for i := range r.Parts {
			if r.Parts[i].Levelled && levels[i] == 0 {
				levels[i], most = 1, max(most, 1)
			}
		}
		return most
	}
	if p.Relief.Lines == recipe.LinesLowest {
		for i, l := range levels {
			if l > 0 && p.LevelOf(r.Parts[i].ID) == 0 {
				levels[i]++
				most = max(most, levels[i])
			}
		}
	}
	for i := range r.Parts {
		if !r.Parts[i].Levelled || levels[i] > 0 {
			continue
		}
		levels[i] = 1
		if p.Relief.Lines == recipe.LinesHighest {
			levels[i] = most + 1
		}
		if own := p.LevelOf(r.Parts[i].ID); own > 0 {
			levels[i] = own
		}
	}
	return slices.Max(levels)
}

// ReliefTrouble says what could trouble somebody about the relief of a piece, a sentence without its stop,
// or nothing.
func ReliefTrouble(r *Regions, d *recipe.Recipe) string {
	_, most := Levels(r, &d.Parts)
	relief := d.Parts.Relief
	lines := slices.ContainsFunc(r.Parts, func(o Outline) bool { return o.Line })
	switch apart := math.Abs(relief.Apart(most)); {
	case !relief.On():
		return ""
	case most < 2:
		return "nothing lies on anything else, so all parts end at one height"
	case apart < d.Print.Layer*(1-1e-9):
		return fmt.Sprintf("its levels are %s apart, closer than the layers of the print (%s): some will come out as one",
			units.MM(apart), units.MM(d.Print.Layer))
	case relief.Lines != "" && !lines:
		return "there are no dark outlines in this artwork"
	}
	return ""
}
