package main

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
)

// sketch is an SVG drawing in the making.
type sketch struct {
	b    strings.Builder
	rnd  *rand.Rand
	used map[string]bool // colours
}

func newSketch(w, h int, seed uint64) *sketch {
	s := &sketch{rnd: rand.New(rand.NewPCG(seed, 8)), used: map[string]bool{}}
	fmt.Fprintf(&s.b, `<svg xmlns="http://www.w3.org/2000/svg" width="%dmm" height="%dmm" viewBox="0 0 %d %d">`+"\n", w, h, w, h)
	return s
}

func (s *sketch) end() []byte {
	s.b.WriteString("</svg>\n")
	return []byte(s.b.String())
}

func (s *sketch) line(format string, a ...any) { fmt.Fprintf(&s.b, format+"\n", a...) }

// between returns a random number.
func (s *sketch) between(a, b float64) float64 { return a + (b-a)*s.rnd.Float64() }

// fresh returns a shade near a colour that was not used yet, #rrggbb.
func (s *sketch) fresh(rgb [3]float64, spread float64) string {
	for {
		light := s.between(-spread, spread)
		var v [3]int
		for i := range v {
			v[i] = int(math.Max(0, math.Min(255, rgb[i]+light+s.between(-spread, spread)/3)))
		}
		if hex := fmt.Sprintf("#%02x%02x%02x", v[0], v[1], v[2]); !s.used[hex] {
			s.used[hex] = true
			return hex
		}
		spread += 0.2
	}
}

// blend lies between two colours.
func blend(a, b [3]float64, t float64) (out [3]float64) {
	for i := range out {
		out[i] = a[i] + (b[i]-a[i])*t
	}
	return out
}

// harbour is a view of the harbour at dusk in the manner of an engraving: some 800 strokes of the burin,
// each of a shade of its own.
func harbour() []byte {
	s := newSketch(200, 130, 1)
	s.line(`<g id="sky"><rect width="200" height="80" fill="%s"/>`, s.fresh([3]float64{226, 190, 150}, 1))
	for i := range 70 { // clouds as long strokes
		y := 4 + 70*float64(i)/70
		c := blend([3]float64{70, 92, 128}, [3]float64{240, 196, 140}, math.Pow(y/78, 0.8))
		s.stroke(s.between(-20, 150), y, s.between(40, 110), s.between(1.2, 3), s.fresh(c, 12))
	}
	s.line(`<circle cx="132" cy="56" r="13" fill="%s"/>`, s.fresh([3]float64{250, 226, 160}, 1))
	for i := range 9 {
		s.stroke(119+s.between(0, 6), 47+2*float64(i), s.between(16, 22), 0.7, s.fresh([3]float64{244, 206, 128}, 10))
	}
	s.line(`</g><g id="hills">`)
	for k := range 3 {
		base, c := 66+5*float64(k), blend([3]float64{96, 112, 130}, [3]float64{52, 70, 66}, float64(k)/2)
		s.hill(base, 9-2*float64(k), s.fresh(c, 1))
		for range 28 { // hatching
			x, y := s.between(0, 196), base+s.between(2, 6)
			s.line(`<path d="M%.1f %.1fl%.1f %.1fl.7 .5l%.1f %.1fz" fill="%s"/>`, x, y, 2.6, -2.4, -2.6, 2.4, s.fresh(c, 20))
		}
	}
	s.line(`</g><g id="sea"><rect y="78" width="200" height="52" fill="%s"/>`, s.fresh([3]float64{38, 70, 88}, 1))
	for row := range 22 {
		y := 79.5 + 2.25*float64(row)
		for x := s.between(-8, 0); x < 200; {
			long := s.between(5, 9) * (0.6 + float64(row)/22)
			c := blend([3]float64{120, 150, 158}, [3]float64{24, 58, 80}, float64(row)/22)
			if math.Abs(x+long/2-132) < 18-float64(row)/2 { // where the sun lies on it
				c = blend(c, [3]float64{250, 214, 150}, 0.65)
			}
			s.stroke(x, y, long, 0.8+float64(row)/18, s.fresh(c, 16))
			x += long * s.between(1, 1.5)
		}
	}
	s.line(`</g><g id="lighthouse">`)
	s.lighthouse()
	s.line(`</g><g id="ferry">`)
	s.ferry()
	s.line(`</g><g id="quay">`)
	for row := range 4 { // stones
		y := 112 + 4.5*float64(row)
		for x := -4.0 * float64(row%2); x < 84-6*float64(3-row); {
			w := s.between(6, 10)
			s.line(`<path d="M%.1f %.1fh%.1fv3.9h%.1fz" fill="%s"/>`,
				x, y, w-0.5, -(w - 0.5), s.fresh([3]float64{122, 112, 100}, 26))
			x += w
		}
	}
	s.line(`</g><text x="196" y="126" text-anchor="end" font-family="serif" font-size="7" fill="#1c1410">QUELLHAVEN</text>`)
	return s.end()
}

// stroke is a lens, pointed at both ends, as a burin cuts it.
func (s *sketch) stroke(x, y, long, high float64, hex string) {
	bend := s.between(-0.6, 0.6)
	x = math.Max(x, 0)
	long = math.Min(long, 200-x)
	s.line(`<path d="M%.1f %.1fq%.1f %.2f %.1f 0q%.1f %.2f %.1f 0z" fill="%s"/>`,
		x, y, long/2, -high+bend, long, -long/2, high+bend, -long, hex)
}

func (s *sketch) hill(base, high float64, hex string) {
	fmt.Fprintf(&s.b, `<path d="M0 80V%.1f`, base)
	for x := 0.0; x < 200; x += 40 {
		fmt.Fprintf(&s.b, "q%.1f %.1f 20 0t20 0", s.between(6, 12), -s.between(high/2, high))
	}
	s.line(`V80z" fill="%s"/>`, hex)
}

func (s *sketch) lighthouse() {
	stone := [3]float64{214, 202, 184}
	for k := range 14 { // from the light side to the dark one
		x := 30 + float64(k)
		s.line(`<path d="M%.1f 112L%.2f 44h%.2fL%.1f 112z" fill="%s"/>`,
			x, 32+0.72*float64(k), 0.72, x+1, s.fresh(blend(stone, [3]float64{96, 84, 80}, float64(k)/13), 3))
	}
	for k := range 3 {
		y, in := 56+16*float64(k), 1.55-0.48*float64(k)
		for i := range 12 {
			w := (14 - 2*in) / 12
			s.line(`<path d="M%.2f %.1fh%.2fv7h%.2fz" fill="%s"/>`,
				30+in+w*float64(i), y, w, -w, s.fresh(blend([3]float64{186, 66, 44}, [3]float64{84, 26, 24}, float64(i)/11), 4))
		}
	}
	s.line(`<path d="M29.5 44h15v-2.4h-15z" fill="%s"/>`, s.fresh([3]float64{60, 56, 58}, 4))
	s.line(`<path d="M33 41.6h8v-8h-8z" fill="%s"/>`, s.fresh([3]float64{252, 232, 150}, 2))
	for i := range 4 {
		s.line(`<path d="M%.1f 41.6h.6v-8h-.6z" fill="%s"/>`, 33+2.45*float64(i), s.fresh([3]float64{70, 60, 50}, 8))
	}
	s.line(`<path d="M32 33.6h10l-5 -5.6z" fill="%s"/>`, s.fresh([3]float64{150, 46, 34}, 4))
}

func (s *sketch) ferry() {
	hull := [3]float64{44, 66, 84}
	for k := range 9 {
		y := 96 + 1.1*float64(k)
		s.line(`<path d="M%.1f %.1fH%.1fl-.8 1.1H%.1fz" fill="%s"/>`,
			96+0.9*float64(k), y, 168-0.8*float64(k), 96.9+0.9*float64(k), s.fresh(blend(hull, [3]float64{18, 26, 38}, float64(k)/8), 3))
	}
	s.line(`<path d="M104 96V88H156V96z" fill="%s"/>`, s.fresh([3]float64{236, 226, 206}, 2))
	s.line(`<path d="M112 88V81H146V88z" fill="%s"/>`, s.fresh([3]float64{224, 212, 190}, 2))
	for i := range 12 {
		s.line(`<rect x="%.1f" y="90.4" width="2.4" height="3" fill="%s"/>`,
			106+4.1*float64(i), s.fresh([3]float64{84, 112, 128}, 24))
	}
	for i := range 7 {
		s.line(`<rect x="%.1f" y="83" width="3" height="3" fill="%s"/>`,
			114+4.5*float64(i), s.fresh([3]float64{240, 206, 130}, 20))
	}
	for k := range 8 {
		s.line(`<path d="M%.1f 81l.5 -9h1l.1 9z" fill="%s"/>`,
			124+1.2*float64(k), s.fresh(blend([3]float64{196, 78, 50}, [3]float64{90, 34, 30}, float64(k)/7), 4))
	}
	for i := range 22 { // smoke
		x, y := 126+1.7*float64(i)+s.between(-2, 2), 71-1.5*float64(i)+s.between(-2, 2)
		long, high := s.between(6, 12), s.between(2, 4)
		s.stroke(x, y, long, high, s.fresh(blend([3]float64{84, 78, 80}, [3]float64{190, 170, 156}, float64(i)/21), 10))
	}
}

// locker is a coat, a lifebuoy and a lantern on a wall of planks: things shaded in flat tones, with dark
// outlines and a word.
func locker() []byte {
	s := newSketch(150, 120, 2)
	for i := range 6 {
		tone := []string{"#5f7f8c", "#587786", "#648591"}[i%3]
		s.line(`<rect x="%d" width="25" height="120" fill="%s"/>`, 25*i, tone)
		s.line(`<rect x="%d" width="2" height="120" fill="#4a6674"/>`, 25*i+23)
	}
	s.line(`<rect y="10" width="150" height="10" fill="#8a6a48"/>`)
	s.line(`<rect y="17" width="150" height="3" fill="#6f5238"/>`)
	s.line(`<rect y="10" width="150" height="2" fill="#a37f57"/>`)
	s.coat()
	s.buoy()
	s.lantern()
	s.line(`<text x="104" y="112" text-anchor="middle" font-family="sans-serif" font-weight="bold" font-size="9" fill="#f4ead2">PIER 3</text>`)
	return s.end()
}

func (s *sketch) coat() {
	outline := `<path d="%s" fill="none" stroke="#241a16" stroke-width="1.2" stroke-linejoin="round"/>`
	body := "M22 22L12 36L9 78L19 80L21 60L20 108H58L57 60L59 80L69 78L66 36L56 22L47 18H31z"
	s.line(`<path d="%s" fill="#7a4f2e"/>`, body)
	s.line(`<path d="M12 36L9 78L19 80L21 50z" fill="#8c5d38"/><path d="M20 108L21 60L27 40L30 108z" fill="#8c5d38"/>`)
	s.line(`<path d="M66 36L69 78L59 80L57 50zM48 108L50 40L57 60L58 108z" fill="#5f3b21"/>`)
	s.line(`<path d="M44 108L46 56L48 108z" fill="#533119"/>`)
	s.line(`<path d="M31 18L39 34L47 18L43 15H35z" fill="#c9b48c"/>`)
	s.line(`<path d="M39 34L47 18L43 15L40 22z" fill="#a8926a"/>`)
	s.line(`<path d="M31 18L39 34L33 40L25 22zM47 18L39 34L45 40L53 22z" fill="#633f25"/>`)
	for i := range 4 {
		s.line(`<circle cx="40" cy="%d" r="2" fill="#c79a3a"/>`, 48+14*i)
		s.line(`<circle cx="39.4" cy="%.1f" r=".9" fill="#efd48a"/>`, 47.4+14*float64(i))
	}
	s.line(`<path d="M24 76h11v10h-11z" fill="#6b4427"/><path d="M24 76h11v2.4h-11z" fill="#94653d"/>`)
	s.line(outline, body)
	s.line(outline, "M40 36V108")
}

func (s *sketch) buoy() {
	ring := func(fill string, from, to float64) {
		at := func(r, a float64) (x, y float64) { return 104 + r*math.Cos(a), 56 + r*math.Sin(a) }
		x0, y0 := at(27, from)
		x1, y1 := at(27, to)
		x2, y2 := at(15, to)
		x3, y3 := at(15, from)
		s.line(`<path d="M%.2f %.2fA27 27 0 0 1 %.2f %.2fL%.2f %.2fA15 15 0 0 0 %.2f %.2fz" fill="%s"/>`,
			x0, y0, x1, y1, x2, y2, x3, y3, fill)
	}
	for k := range 8 {
		from := math.Pi/8 + float64(k)*math.Pi/4
		tones := []string{"#c4412e", "#d95b43", "#9e2f22"}
		if k%2 == 1 {
			tones = []string{"#efe6d6", "#fbf5ea", "#cfc3ae"}
		}
		shade := tones[0]
		if from > math.Pi*0.9 && from < math.Pi*1.7 {
			shade = tones[1]
		} else if from < math.Pi*0.6 {
			shade = tones[2]
		}
		ring(shade, from, from+math.Pi/4)
	}
	s.line(`<circle cx="104" cy="56" r="27" fill="none" stroke="#241a16" stroke-width="1.2"/>`)
	s.line(`<circle cx="104" cy="56" r="15" fill="none" stroke="#241a16" stroke-width="1.2"/>`)
	s.line(`<path d="M104 29C92 24 98 14 104 12C110 14 116 24 104 29z" fill="none" stroke="#d8bf8e" stroke-width="1.6"/>`)
}

func (s *sketch) lantern() {
	s.line(`<path d="M128 78h16v28h-16z" fill="#f2c65a"/>`)
	s.line(`<path d="M132 84h8v18h-8z" fill="#fbe7a6"/>`)
	s.line(`<path d="M135 92q1 -5 1 -7q3 5 1 9z" fill="#fffdf0"/>`)
	s.line(`<path d="M126 74h20v5h-20zM126 105h20v5h-20z" fill="#b98a35"/>`)
	s.line(`<path d="M126 74h20v1.8h-20zM126 105h20v1.8h-20z" fill="#dcb45e"/>`)
	s.line(`<path d="M126 108h20v2h-20z" fill="#8b6422"/>`)
	s.line(`<path d="M130 74L136 66L142 74z" fill="#a87a2c"/><path d="M136 66L142 74h-5z" fill="#865d1f"/>`)
	s.line(`<path d="M128 79v26M144 79v26M136 79v26" fill="none" stroke="#241a16" stroke-width="1"/>`)
	s.line(`<path d="M131 68q5 -12 10 0" fill="none" stroke="#241a16" stroke-width="1.2"/>`)
}
