package mend

import (
	"math"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/read/font"
	"bildhauer/core/recipe"
)

// The deeds of this file add shapes. What they add is united with the shapes of
// its colour that it meets.

// backing is the colour of plates and borders unless one is given: a part of
// its own, so that the artwork stays to be seen on it.
var backing = artwork.Color{R: 0xd8, G: 0xcf, B: 0xc3}

// addPlate adds a rectangle about At[0], MM[0] wide and MM[1] high, under
// everything. How names the form of each corner, from the upper left one
// clockwise: "square", "round", "chamfer" or "point"; MM[2] to MM[5] say how
// large. Points meet in the middle of the side, so that two of them make the
// foot of a stake.
func addPlate(w *Work, m *recipe.Mend) error {
	if !(m.MM[0] > 0) || !(m.MM[1] > 0) {
		return refuse("a plate needs a width and a height above nothing")
	}
	wide, high := w.px(m.MM[0]), w.px(m.MM[1])
	how := strings.Fields(strings.ReplaceAll(m.How, ",", " "))
	var form [4]string
	var size [4]float64
	for i := range form {
		if i < len(how) {
			form[i] = how[i]
		}
		if len(m.MM) > 2+i {
			size[i] = w.px(math.Max(0, m.MM[2+i]))
		}
		if form[i] == "" || form[i] == "square" {
			size[i] = 0
		}
	}
	if most := math.Min(wide, high) / 2; size != fits(size, form, wide, high) {
		return refuse("the corners of the plate are larger than its sides; up to %.4g mm fit", most/w.PxPerMM)
	}
	c := plateOutline(vec(m.At[0]), wide, high, form, size)
	return w.addContours(m, "Plate", []geom.Contour{c}, true)
}

// fits returns corner sizes cut down to what a plate has room for.
func fits(size [4]float64, form [4]string, wide, high float64) [4]float64 {
	for i, r := range size {
		if form[i] == "point" {
			size[i] = math.Min(r, high)
		} else {
			size[i] = math.Min(r, math.Min(wide, high)/2)
		}
	}
	return size
}

// plateOutline runs clockwise on the screen from the upper left corner.
func plateOutline(mid geom.Vec, wide, high float64, form [4]string, size [4]float64) geom.Contour {
	var c geom.Contour
	started := false
	to := func(s geom.Segment) {
		if !started {
			c.Start, started = s.To, true
			return
		}
		if s.To != c.End() {
			c.Segs = append(c.Segs, s)
		}
	}
	// Corner i lies at sign (x, y) from the middle; the outline comes along one
	// side and leaves along the next.
	signs := [4]geom.Vec{{X: -1, Y: -1}, {X: 1, Y: -1}, {X: 1, Y: 1}, {X: -1, Y: 1}}
	for i, s := range signs {
		corner := geom.Vec{X: mid.X + s.X*wide/2, Y: mid.Y + s.Y*high/2}
		r := size[i]
		upright := geom.Vec{X: corner.X, Y: corner.Y - s.Y*r} // on the upright side
		run := r
		if form[i] == "point" {
			run = wide / 2
		}
		level := geom.Vec{X: corner.X - s.X*run, Y: corner.Y}
		in, out := upright, level
		if i == 1 || i == 3 { // comes along the level side
			in, out = level, upright
		}
		to(geom.Segment{Kind: geom.Line, To: in})
		if r == 0 {
			continue
		}
		if form[i] == "round" {
			const k = 0.5522847498307936 // 4/3 tan(pi/8)
			to(geom.Segment{Kind: geom.Cubic, C1: in.Lerp(corner, k), C2: out.Lerp(corner, k), To: out})
			continue
		}
		to(geom.Segment{Kind: geom.Line, To: out})
	}
	to(geom.Segment{Kind: geom.Line, To: c.Start})
	c.Closed = true
	return c
}

// circle returns a circle as four cubics, within 0.03% of its radius.
func circle(c geom.Vec, r float64) geom.Contour {
	m := geom.Matrix{A: r, D: r, E: c.X, F: c.Y}
	out := geom.Contour{Segs: geom.UnitArc(m, 0, 2*math.Pi), Closed: true}
	out.Start = out.End()
	return out
}

// addDisc adds a disc of the diameter MM[0] about At[0], with MM[1] a ring with
// that opening.
func addDisc(w *Work, m *recipe.Mend) error {
	list, err := w.discs(m)
	if err != nil {
		return err
	}
	return w.addContours(m, "Disc", list, false)
}

func (w *Work) discs(m *recipe.Mend) ([]geom.Contour, error) {
	outer := m.MM[0]
	if !(outer > 0) {
		return nil, refuse("a disc needs a diameter above nothing")
	}
	list := []geom.Contour{circle(vec(m.At[0]), w.px(outer)/2)}
	if len(m.MM) > 1 && m.MM[1] != 0 {
		if !(m.MM[1] > 0 && m.MM[1] < outer) {
			return nil, refuse("the opening must be smaller than the ring")
		}
		list = append(list, circle(vec(m.At[0]), w.px(m.MM[1])/2).Reversed())
	}
	return list, nil
}

// addEyelet adds a ring of the outer diameter MM[0] about At[0] and cuts its
// opening of MM[1] through everything there.
func addEyelet(w *Work, m *recipe.Mend) error {
	list, err := w.discs(m)
	if err != nil {
		return err
	}
	if err := w.addContours(m, "Eyelet", list[:1], false); err != nil {
		return err
	}
	return w.punch(list[1:])
}

// punchHole cuts a round hole of the diameter MM[0] through everything at At[0].
func punchHole(w *Work, m *recipe.Mend) error {
	if !(m.MM[0] > 0) {
		return refuse("a hole needs a diameter above nothing")
	}
	return w.punch([]geom.Contour{circle(vec(m.At[0]), w.px(m.MM[0])/2)})
}

func (w *Work) punch(list []geom.Contour) error {
	src := newSources()
	hole, err := fill(w.loops(list, geom.Identity, src, w.tol()))
	if err != nil {
		return err
	}
	met, err := w.cut(w.below(w.atTop(), w.boxOf(hole)), hole, src)
	if err == nil && !met {
		return refuse("there is nothing to cut a hole into")
	}
	return err
}

// addBorder adds the outline of everything, grown by MM[0], under everything;
// holes are filled, or kept with How "holes".
func addBorder(w *Work, m *recipe.Mend) error {
	all, err := w.everything()
	if err != nil {
		return err
	}
	if m.How != "holes" {
		for i := range all {
			all[i].Holes = nil
		}
		var loops []plane.Loop
		for _, p := range all {
			loops = append(loops, p.Outer)
		}
		if all, err = fill(loops); err != nil {
			return err
		}
	}
	r, err := w.offset(all, m.MM[0], "")
	if err != nil {
		return err
	}
	if m.How != "holes" { // what closed while it grew
		for i := range r {
			r[i].Holes = nil
		}
	}
	if len(r) == 0 {
		return refuse("nothing would be left of the border")
	}
	return w.addRegion(m, "Border", w.contours(r, nil), r, true)
}

// everything returns the area of all shapes that take part.
func (w *Work) everything() (plane.Region, error) {
	var list []plane.Region
	for i := range w.Sheet.Shapes {
		if !w.In[i] {
			continue
		}
		r, err := w.region(i, nil)
		if err != nil {
			return nil, err
		}
		list = append(list, r)
	}
	r, err := union(list)
	if err == nil && len(r) == 0 {
		return nil, refuse("no shape is included")
	}
	return r, err
}

// addStrip adds a strip of the height MM[0] along the foot of everything, MM[1]
// longer than it on either side and MM[2] up into it.
func addStrip(w *Work, m *recipe.Mend) error {
	if !(m.MM[0] > 0) {
		return refuse("a strip needs a height above nothing")
	}
	all, err := w.everything()
	if err != nil {
		return err
	}
	box := w.boxOf(all)
	into := 0.0
	if len(m.MM) > 2 {
		into = w.px(m.MM[2])
	}
	more := w.px(m.MM[1])
	lo := geom.Vec{X: box.Min.X - more, Y: box.Max.Y - into}
	hi := geom.Vec{X: box.Max.X + more, Y: lo.Y + w.px(m.MM[0])}
	if !(hi.X > lo.X) {
		return refuse("nothing would be left of the strip")
	}
	c := plateOutline(lo.Lerp(hi, 0.5), hi.X-lo.X, hi.Y-lo.Y, [4]string{}, [4]float64{})
	return w.addContours(m, "Strip", []geom.Contour{c}, false)
}

// addLettering adds the text in capitals MM[0] high, its middle at At[0], turned
// by Turn degrees. It is refused when the font lacks a letter.
func addLettering(w *Work, m *recipe.Mend) error {
	text := strings.TrimSpace(m.Text)
	if text == "" {
		return refuse("write what it shall say first")
	}
	if !(m.MM[0] > 0) {
		return refuse("letters need a height above nothing")
	}
	name := m.Font
	if name == "" {
		name = font.Shipped()[0]
	}
	found := w.Fonts.Find(font.Want{Families: []string{name}})
	var list []geom.Contour
	for i, line := range strings.Split(text, "\n") {
		set, advance, missing := found.Face.SetLine(line)
		if missing != 0 {
			return refuse("%s has no letter %q. Choose another font, or add one in Intake", found.Face.Family, missing)
		}
		for _, c := range set {
			list = append(list, c.Transform(geom.Translate(-advance/2, -1.25*float64(i))))
		}
	}
	cap, _, _ := found.Face.SetLine("H")
	box := geom.EmptyBox()
	for _, c := range cap {
		box = box.Union(c.TightBox())
	}
	all := geom.EmptyBox()
	for _, c := range list {
		all = all.Union(c.TightBox())
	}
	if all.Empty() || !(box.H() > 0) {
		return refuse("the lettering has no outline in %s", found.Face.Family)
	}
	k := w.px(m.MM[0]) / box.H()
	mid := all.Center()
	at := geom.Translate(m.At[0][0], m.At[0][1]).Mul(geom.Rotate(m.Turn * math.Pi / 180)).
		Mul(geom.Scale(k, -k)).Mul(geom.Translate(-mid.X, -mid.Y))
	for i := range list {
		list[i] = list[i].Transform(at)
		list[i].Closed = true
	}
	return w.addContours(m, "Lettering", list, false)
}

// addContours adds the area that contours enclose.
func (w *Work) addContours(m *recipe.Mend, name string, list []geom.Contour, under bool) error {
	r, err := fill(w.loops(list, geom.Identity, nil, w.tol()))
	if err != nil {
		return err
	}
	if len(r) == 0 {
		return refuse("nothing would be seen of it; make it larger")
	}
	return w.addRegion(m, name, list, r, under)
}

// addRegion adds a shape under or on top of everything, in the colour given, or
// that of what it meets, and unites it with the shapes of its colour there.
func (w *Work) addRegion(m *recipe.Mend, name string, list []geom.Contour, r plane.Region, under bool) error {
	color, given := artwork.ParseHex(m.Color)
	box := w.boxOf(r)
	meets := w.below(w.atTop(), box)
	if !given {
		color = backing
		if !under {
			color = w.colorNear(meets, box)
		}
	}
	areas := []plane.Region{r}
	src := newSources()
	w.loops(list, geom.Identity, src, w.tol())
	var with []int
	for _, i := range meets {
		if w.Color[i] != color || w.Sheet.Shapes[i].Stroke != nil || len(w.Sheet.Shapes[i].Clips) > 0 {
			continue
		}
		own, err := w.region(i, src)
		if err != nil {
			return err
		}
		both, err := plane.Combine(own, r, plane.Intersect)
		if err != nil {
			return err
		}
		if len(both) > 0 {
			with, areas = append(with, i), append(areas, own)
		}
	}
	if len(with) > 0 {
		all, err := union(areas)
		if err != nil {
			return err
		}
		w.setRegion(with[0], all, src)
		w.remove(with[1:]...)
		return nil
	}
	sh := newShape(m, 0, name, color, list)
	if under {
		w.insert(0, sh)
	} else {
		w.insert(w.atTop(), sh)
	}
	return nil
}

// colorNear returns the colour of the topmost of some shapes, or of the one
// nearest to a box.
func (w *Work) colorNear(meets []int, box geom.Box) artwork.Color {
	if len(meets) > 0 {
		return w.Color[meets[len(meets)-1]]
	}
	best, far := artwork.Color{}, math.Inf(1)
	for i := range w.Sheet.Shapes {
		if b := w.Sheet.Shapes[i].Box(); w.In[i] && !b.Empty() {
			if d := b.Center().Sub(box.Center()).Len(); d < far {
				best, far = w.Color[i], d
			}
		}
	}
	return best
}
