package artwork

import (
	"fmt"
	"math"
	"regexp"
	"sort"
	"strings"

	"bildhauer/core/geom"
)

// Matching is how the shapes of a changed file belong to those of the old one.
type Matching struct {
	Shapes  map[string]string // old key -> new key
	Groups  map[string]string
	New     []int // shapes of the new sheet without an old one
	Gone    []int // shapes of the old sheet without a new one
	Changed []int // shapes of the new sheet that are kept, but look different
}

// Match finds for each shape of the old sheet the one that it became: by
// identity first, then by layer and name, then by form and place. Each step
// looks only at what the ones before left over.
func Match(old, new *Sheet) Matching {
	m := newMatcher(old, new)
	m.unique(func(s *side, i int) string {
		if k := s.sheet.Shapes[i].Key; !positional(k) {
			return k
		}
		return ""
	})
	// Exactly the same form in the same place.
	m.unique(func(s *side, i int) string { return s.looks[i].text() })
	m.unique(func(s *side, i int) string {
		sh := &s.sheet.Shapes[i]
		if automatic(sh.Name) {
			return ""
		}
		return s.sheet.Path(sh.Group) + "\x00" + sh.Name + fmt.Sprint(sh.Stroke != nil)
	})
	m.nearest()
	m.out.Gone, m.out.New = m.old.rest(), m.new.rest()
	sort.Ints(m.out.Changed)
	m.groups()
	return m.out
}

// matcher pairs the shapes of two sheets step by step, surest first.
type matcher struct {
	old, new side
	out      Matching
}

// side is one of the two sheets.
type side struct {
	sheet *Sheet
	looks []look
	taken []bool // shapes that have their partner
}

func newMatcher(old, new *Sheet) *matcher {
	one := func(s *Sheet) side { return side{s, looks(s), make([]bool, len(s.Shapes))} }
	return &matcher{
		old: one(old),
		new: one(new),
		out: Matching{Shapes: map[string]string{}, Groups: map[string]string{}},
	}
}

// rest returns the shapes without partner.
func (s *side) rest() (out []int) {
	for i, taken := range s.taken {
		if !taken {
			out = append(out, i)
		}
	}
	return out
}

// once returns the shapes without partner whose text no other of them has.
func (s *side) once(text func(s *side, i int) string) map[string]int {
	out := map[string]int{}
	for _, i := range s.rest() {
		k := text(s, i)
		if k == "" {
			continue
		}
		if _, twice := out[k]; twice {
			out[k] = -1
		} else {
			out[k] = i
		}
	}
	for k, i := range out {
		if i < 0 {
			delete(out, k)
		}
	}
	return out
}

func (m *matcher) pair(i, j int) {
	m.old.taken[i], m.new.taken[j] = true, true
	m.out.Shapes[m.old.sheet.Shapes[i].Key] = m.new.sheet.Shapes[j].Key
	if !m.old.looks[i].same(&m.new.looks[j]) {
		m.out.Changed = append(m.out.Changed, j)
	}
}

// unique pairs shapes by a text that occurs once on each side.
func (m *matcher) unique(text func(s *side, i int) string) {
	left, right := m.old.once(text), m.new.once(text)
	for k, i := range left {
		if j, ok := right[k]; ok {
			m.pair(i, j)
		}
	}
}

// nearLimit is the distance (look.far) up to which shapes may be the same, and
// nearPairs bounds how many are compared.
const (
	nearLimit = 0.15
	nearPairs = 4_000_000
)

// nearest pairs what remains with the nearest of the same kind, closest first.
func (m *matcher) nearest() {
	type candidate struct {
		i, j int
		far  float64
	}
	page := m.old.sheet.Page
	size := math.Max(math.Max(page.W(), page.H()), 1)
	left, right := m.old.rest(), m.new.rest()
	if len(left)*len(right) > nearPairs {
		return
	}
	var near []candidate
	for _, i := range left {
		for _, j := range right {
			if d := m.old.looks[i].far(&m.new.looks[j], size); d < nearLimit {
				near = append(near, candidate{i, j, d})
			}
		}
	}
	sort.SliceStable(near, func(a, b int) bool { return near[a].far < near[b].far })
	for _, c := range near {
		if !m.old.taken[c.i] && !m.new.taken[c.j] {
			m.pair(c.i, c.j)
		}
	}
}

// groups pairs groups by their names and those around them.
func (m *matcher) groups() {
	byPath := map[string]string{}
	for i, g := range m.new.sheet.Groups {
		if k := m.new.sheet.Path(i); byPath[k] == "" {
			byPath[k] = g.Key
		}
	}
	for i, g := range m.old.sheet.Groups {
		if k, ok := byPath[m.old.sheet.Path(i)]; ok {
			m.out.Groups[g.Key] = k
		}
	}
}

// positional reports whether a key only counts shapes.
func positional(k string) bool {
	k = strings.TrimSuffix(k, "+stroke")
	if strings.HasPrefix(k, "/") {
		return true
	}
	return len(k) > 1 && k[0] == 's' && strings.Trim(k[1:], "0123456789") == ""
}

var counted = regexp.MustCompile(
	`^(<.*>|(Shape|Stroke|Path|Rectangle|Circle|Ellipse|Line|Polygon|Text) \d+)( \(stroke\))?$`,
)

// automatic reports whether a name was not given by a person.
func automatic(n string) bool { return n == "" || counted.MatchString(n) }

// look is what a shape looks like, for comparison.
type look struct {
	box    geom.Box
	nodes  int
	color  Color
	stroke float64 // width on the page, 0 for a fill
	hidden bool
}

func looks(s *Sheet) []look {
	out := make([]look, len(s.Shapes))
	for i := range s.Shapes {
		sh := &s.Shapes[i]
		b := geom.EmptyBox()
		for _, c := range sh.Contours {
			b = b.Union(c.Transform(sh.Matrix).TightBox())
		}
		out[i] = look{box: b, nodes: sh.Nodes(), color: sh.Color, hidden: sh.Hidden}
		if sh.Stroke != nil {
			out[i].stroke = sh.Stroke.Width * sh.Matrix.MaxScale()
		}
	}
	return out
}

func (l *look) text() string {
	r := func(v float64) float64 { return math.Round(v*200) / 200 }
	return fmt.Sprint(
		r(l.box.Min.X),
		r(l.box.Min.Y),
		r(l.box.Max.X),
		r(l.box.Max.Y),
		l.nodes,
		l.color,
		r(l.stroke),
	)
}

func (l *look) same(o *look) bool { return l.text() == o.text() && l.hidden == o.hidden }

// far tells how different two shapes are: their boxes as a share of the page,
// their nodes and colours; over 1 for different kinds.
func (l *look) far(o *look, size float64) float64 {
	if (l.stroke > 0) != (o.stroke > 0) || l.box.Empty() || o.box.Empty() {
		return 2
	}
	d := (l.box.Min.Sub(o.box.Min).Len() + l.box.Max.Sub(o.box.Max).Len()) / size
	if l.color != o.color {
		d += 0.05
	}
	n := math.Abs(float64(l.nodes-o.nodes)) / float64(max(l.nodes, o.nodes, 1))
	return d + 0.1*n
}
