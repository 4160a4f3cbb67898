package palette

import (
	"cmp"
	"math"
	"slices"

	"github.com/lucasb-eyer/go-colorful"

	"bildhauer/core/artwork"
)

// Lab is a colour in OKLab (Ottosson 2020), in which distances are as large as differences look; black and
// white are 1 apart, and 0.02 is just seen.
type Lab [3]float64

// LabOf returns a colour in OKLab.
func LabOf(c artwork.Color) Lab {
	l, a, b := colorful.Color{R: float64(c.R) / 255, G: float64(c.G) / 255, B: float64(c.B) / 255}.OkLab()
	return Lab{l, a, b}
}

// To returns the distance to another colour.
func (l Lab) To(o Lab) float64 { return math.Sqrt(sq(l[0]-o[0]) + sq(l[1]-o[1]) + sq(l[2]-o[2])) }

// hueCounts is by how much more a difference of hue and colourfulness counts than one of light, where it is
// about what belongs together: light and shadow are of one thing, red and brown are not.
const hueCounts = 2

// apart is how unlike two colours are as colours of things.
func (l Lab) apart(o Lab) float64 {
	return math.Sqrt(sq(l[0]-o[0]) + sq(hueCounts*(l[1]-o[1])) + sq(hueCounts*(l[2]-o[2])))
}

func sq(v float64) float64 { return v * v }

// Shade is a colour of the artwork.
type Shade struct {
	Hex    string
	Area   float64 // share of what is seen
	Shapes int     // that have it
	Text   bool    // it is the colour of text
	Line   bool    // it is the colour of dark outlines
	lab    Lab
}

// Shades is the colours of artwork and how long they lie beside each other.
type Shades struct {
	List   []Shade // by hex
	beside map[[2]int32]float64
}

// ShadesOf lists the colours of the given shapes; hex returns that of one, canvas what is seen of them.
func ShadesOf(s *artwork.Sheet, take []int, hex func(i int) string, canvas *Canvas) *Shades {
	out := &Shades{beside: map[[2]int32]float64{}}
	index := map[string]int32{}
	of := make(map[int32]int32, len(take)) // shape -> shade
	for _, i := range take {
		h := hex(i)
		n, have := index[h]
		if !have {
			n = int32(len(out.List))
			index[h] = n
			c, _ := artwork.ParseHex(h)
			out.List = append(out.List, Shade{Hex: h, lab: LabOf(c)})
		}
		of[int32(i)] = n
		shade := &out.List[n]
		shade.Shapes++
		sh := &s.Shapes[i]
		c, _ := artwork.ParseHex(h)
		shade.Line = shade.Line || sh.Stroke != nil && c.Dark()
		shade.Text = shade.Text || sh.Text != ""
	}
	seen := 0.0
	for k, n := range canvas.Shape {
		if n < 0 {
			continue
		}
		a := of[n]
		seen++
		out.List[a].Area++
		if k%canvas.W+1 < canvas.W {
			out.meets(a, of, canvas.Shape[k+1])
		}
		if k+canvas.W < len(canvas.Shape) {
			out.meets(a, of, canvas.Shape[k+canvas.W])
		}
	}
	for i := range out.List {
		out.List[i].Area /= math.Max(1, seen)
	}
	out.sort()
	return out
}

// meets notes that a pixel of shade a lies beside one of shape n.
func (s *Shades) meets(a int32, of map[int32]int32, n int32) {
	if n < 0 || of[n] == a {
		return
	}
	b := of[n]
	s.beside[[2]int32{min(a, b), max(a, b)}]++
}

// sort brings the list into the order of its colours, so that nothing depends on that of shapes.
func (s *Shades) sort() {
	order := make([]int32, len(s.List))
	for i := range order {
		order[i] = int32(i)
	}
	slices.SortFunc(order, func(a, b int32) int { return cmp.Compare(s.List[a].Hex, s.List[b].Hex) })
	at := make([]int32, len(order))
	list := make([]Shade, len(order))
	for i, o := range order {
		at[o], list[i] = int32(i), s.List[o]
	}
	beside := make(map[[2]int32]float64, len(s.beside))
	for pair, n := range s.beside {
		a, b := at[pair[0]], at[pair[1]]
		beside[[2]int32{min(a, b), max(a, b)}] = n
	}
	s.List, s.beside = list, beside
}
