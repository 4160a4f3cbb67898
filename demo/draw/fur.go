package main

import (
	"fmt"
	"math"
)

// cat is the cat of the ferry, drawn tuft by tuft as with a brush: hundreds of slender shapes that run into each
// other, end in hairs and lie over each other's seams, as fur does.
func cat() []byte {
	s := newSketch(140, 160, 3)
	s.line(`<title>Ship's cat</title>`)
	dark, coat, pale := [3]float64{58, 50, 46}, [3]float64{196, 122, 62}, [3]float64{242, 226, 200}
	s.line(`<path id="body" fill="#b8743a" d="M34 158C26 120 34 92 50 82L92 82C108 92 116 120 108 158Z"/>`)
	s.line(`<path id="head" fill="#c2804a" d="M71 22C100 22 114 44 112 64C110 86 92 98 71 98C50 98 32 86 30 64C28 44 42 22 71 22Z"/>`)
	for _, side := range [2]float64{-1, 1} {
		s.line(`<path fill="#b8743a" d="M%.2f 40L%.2f 6L%.2f 26Z"/>`, 71+side*40, 71+side*38, 71+side*14)
		s.line(`<path fill="#e2b7a0" d="M%.2f 34L%.2f 14L%.2f 27Z"/>`, 71+side*35, 71+side*34, 71+side*20)
	}
	s.line(`<path id="bib" fill="#f2e2c8" d="M54 94C50 116 58 138 71 146C84 138 92 116 88 94C80 102 62 102 54 94Z"/>`)
	// Fur lies from the nose outwards and down the body; stripes are darker.
	for ring := range 9 {
		r := 13 + float64(ring)*4.3
		n := 14 + 5*ring
		for k := range n {
			a := 2*math.Pi*(float64(k)+s.between(-0.3, 0.3))/float64(n) + math.Pi/2
			x, y := 71+r*math.Cos(a)*1.02, 64+r*math.Sin(a)*0.84
			c := blend(coat, dark, 0.75*math.Pow(math.Abs(math.Sin(3*a)), 8))
			if r < 24 && math.Sin(a) > 0 {
				c = blend(pale, coat, s.between(0, 0.25))
			}
			s.tuft(x, y, a+s.between(-0.25, 0.25), s.between(5, 9), s.between(0.7, 1.5), c)
		}
	}
	for row := range 9 {
		y := 100 + float64(row)*6.2
		half := 17 + 2.4*float64(row)
		n := 9 + row
		for k := range n {
			x := 71 + half*(2*(float64(k)+s.between(0.2, 0.8))/float64(n)-1)*1.05
			c := blend(coat, dark, 0.7*math.Pow(math.Abs(math.Sin(float64(row)*1.3)), 6))
			if math.Abs(x-71) < 13 && y < 140 {
				c = blend(pale, coat, s.between(0, 0.3))
			}
			s.tuft(x, y, math.Pi/2+(x-71)*0.012+s.between(-0.2, 0.2), s.between(6, 11), s.between(0.8, 1.7), c)
		}
	}
	s.face()
	return s.end()
}

// tuft is a lock of hair: a slender shape from its root, bent, to one, two or three points.
func (s *sketch) tuft(x, y, turn, long, wide float64, rgb [3]float64) {
	at := func(u, v float64) string {
		return fmt.Sprintf("%.2f %.2f", x+u*math.Cos(turn)-v*math.Sin(turn), y+u*math.Sin(turn)+v*math.Cos(turn))
	}
	bend := s.between(-1, 1)
	tone := [3]float64{}
	for i, v := range rgb { // a handful of tones
		tone[i] = math.Round(v/14) * 14
	}
	d := "M" + at(0, -wide) + "Q" + at(long*0.5, -wide+bend) + " " + at(long, bend*1.4)
	for range s.rnd.IntN(3) {
		d += "L" + at(long*s.between(0.55, 0.7), bend*0.7+s.between(-0.1, 0.1)) + "L" + at(long*s.between(0.85, 0.98), bend*1.4+s.between(0.15, 0.5))
	}
	d += "Q" + at(long*0.5, wide+bend) + " " + at(0, wide) + "Z"
	s.line(`<path fill="#%02x%02x%02x" d="%s"/>`, int(tone[0]), int(tone[1]), int(tone[2]), d)
}

// face has eyes, a nose, a mouth and whiskers.
func (s *sketch) face() {
	for _, side := range [2]float64{-1, 1} {
		x := 71 + side*16
		s.line(`<path fill="#2e2622" d="M%.2f 56Q%.2f 46 %.2f 56Q%.2f 64 %.2f 56Z"/>`, x-9, x, x+9, x, x-9)
		s.line(`<circle fill="#8fae5a" cx="%.2f" cy="55.6" r="4.1"/>`, x)
		s.line(`<ellipse fill="#2e2622" cx="%.2f" cy="55.6" rx="1.3" ry="3.6"/>`, x)
		s.line(`<circle fill="#ffffff" cx="%.2f" cy="54" r="0.9"/>`, x+1.4)
		for k := range 4 {
			y := 70 + 3*float64(k)
			s.line(`<path fill="none" stroke="#f7efe2" stroke-width="0.5" d="M%.2f %.2fQ%.2f %.2f %.2f %.2f"/>`,
				71+side*9, y, 71+side*28, y-4+2*float64(k), 71+side*52, y-8+5*float64(k))
		}
	}
	s.line(`<path fill="#a3473a" d="M66 67Q71 65 76 67Q74 72 71 73Q68 72 66 67Z"/>`)
	s.line(`<path fill="none" stroke="#2e2622" stroke-width="1" d="M71 73V77M71 77Q66 82 62 78M71 77Q76 82 80 78"/>`)
	s.line(`<path id="collar" fill="#274c6b" d="M47 92Q71 108 95 92L96 97Q71 114 46 97Z"/>`)
	s.line(`<circle id="bell" fill="#d9a441" cx="71" cy="108" r="4.4"/><circle fill="#7a5216" cx="71" cy="109.5" r="1"/>`)
}
