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
	m := Matching{Shapes: map[string]string{}, Groups: map[string]string{}}
	before, after := looks(old), looks(new)
	takenOld, takenNew := make([]bool, len(before)), make([]bool, len(after))
	pair := func(i, j int) {
		takenOld[i], takenNew[j] = true, true
		m.Shapes[old.Shapes[i].Key] = new.Shapes[j].Key
		if !before[i].same(&after[j]) {
			m.Changed = append(m.Changed, j)
		}
	}
	// unique pairs shapes by a text that occurs once on each side.
	unique := func(text func(s *Sheet, i int) string) {
		left, right := map[string]int{}, map[string]int{}
		count := func(s *Sheet, taken []bool, into map[string]int) {
			for i := range s.Shapes {
				if k := text(s, i); !taken[i] && k != "" {
					if _, twice := into[k]; twice {
						into[k] = -1
					} else {
						into[k] = i
					}
				}
			}
		}
		count(old, takenOld, left)
		count(new, takenNew, right)
		for i := range old.Shapes {
			k := text(old, i)
			if takenOld[i] || k == "" || left[k] != i {
				continue
			}
			if j, ok := right[k]; ok && j >= 0 {
				pair(i, j)
			}
		}
	}
	unique(func(s *Sheet, i int) string {
		if k := s.Shapes[i].Key; !positional(k) {
			return k
		}
		return ""
	})
	// Exactly the same form in the same place.
	unique(func(s *Sheet, i int) string {
		l := &before
		if s == new {
			l = &after
		}
		return (*l)[i].text()
	})
	unique(func(s *Sheet, i int) string {
		if n := s.Shapes[i].Name; !automatic(n) {
			return s.Path(s.Shapes[i].Group) + "\x00" + n + fmt.Sprint(s.Shapes[i].Stroke != nil)
		}
		return ""
	})
	// What remains goes to the nearest of the same kind, closest pairs first.
	type candidate struct {
		i, j int
		far  float64
	}
	var near []candidate
	size := math.Max(math.Max(old.Page.W(), old.Page.H()), 1)
	var restOld, restNew []int
	for i := range before {
		if !takenOld[i] {
			restOld = append(restOld, i)
		}
	}
	for j := range after {
		if !takenNew[j] {
			restNew = append(restNew, j)
		}
	}
	if len(restOld)*len(restNew) <= 4_000_000 {
		for _, i := range restOld {
			for _, j := range restNew {
				if d := before[i].far(&after[j], size); d < 0.15 {
					near = append(near, candidate{i, j, d})
				}
			}
		}
	}
	sort.SliceStable(near, func(a, b int) bool { return near[a].far < near[b].far })
	for _, c := range near {
		if !takenOld[c.i] && !takenNew[c.j] {
			pair(c.i, c.j)
		}
	}
	for i := range before {
		if !takenOld[i] {
			m.Gone = append(m.Gone, i)
		}
	}
	for j := range after {
		if !takenNew[j] {
			m.New = append(m.New, j)
		}
	}
	sort.Ints(m.Changed)
	groups := map[string]string{}
	for i, g := range new.Groups {
		if k := new.Path(i); groups[k] == "" {
			groups[k] = g.Key
		}
	}
	for i, g := range old.Groups {
		if k, ok := groups[old.Path(i)]; ok {
			m.Groups[g.Key] = k
		}
	}
	return m
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
