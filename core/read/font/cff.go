package font

import (
	"encoding/binary"
	"errors"
	"strconv"
	"strings"

	"github.com/go-text/typesetting/font/cff"
	ot "github.com/go-text/typesetting/font/opentype"
	"github.com/go-text/typesetting/font/opentype/tables"

	"bildhauer/core/geom"
)

// CFF is a bare CFF font program (Adobe Technical Note 5176). The library
// gives outlines and names; what it keeps to itself (charset of CID fonts,
// encoding, matrix, widths) is read here.
type CFF struct {
	Matrix   geom.Matrix
	Encoding *Encoding // of fonts that are not keyed by CID
	CID      bool

	font   *cff.CFF
	names  map[string]int
	cids   map[int]int // CID -> glyph
	widths func(gid int) float64
}

// ParseCFF reads a bare CFF font.
func ParseCFF(data []byte) (f *CFF, err error) {
	defer func() {
		if recover() != nil {
			f, err = nil, errors.New("is a damaged CFF font")
		}
	}()
	if len(data) > 4 { // the library insists on the usual size of the header
		if n := int(data[2]); n > 4 && n < len(data) {
			return nil, errors.New("has a long CFF header")
		}
	}
	lib, err := cff.Parse(data)
	if err != nil {
		return nil, err
	}
	f = &CFF{
		font:     lib,
		Matrix:   geom.Scale(0.001, 0.001),
		Encoding: &Encoding{},
		names:    map[string]int{},
		cids:     map[int]int{},
	}
	f.widths = func(int) float64 { return 0 }
	f.structure(data)
	if !f.CID {
		for gid := range lib.Charstrings {
			if n := lib.GlyphName(ot.GID(gid)); n != "" {
				if _, have := f.names[n]; !have {
					f.names[n] = gid
				}
			}
		}
	}
	return f, nil
}

// Count implements Program.
func (f *CFF) Count() int { return len(f.font.Charstrings) }

// ByName implements Program.
func (f *CFF) ByName(name string) int {
	if g, ok := f.names[name]; ok {
		return g
	}
	return -1
}

// ByRune implements Program.
func (f *CFF) ByRune(r rune) int { return f.ByName(NameOf(r)) }

// ByCID returns the glyph of a CID, -1 if the font has none.
func (f *CFF) ByCID(cid int) int {
	if !f.CID {
		if cid < f.Count() {
			return cid
		}
		return -1
	}
	if g, ok := f.cids[cid]; ok {
		return g
	}
	return -1
}

// Glyph implements Program.
func (f *CFF) Glyph(gid int) (g Glyph) {
	defer func() {
		if recover() != nil {
			g = Glyph{}
		}
	}()
	if gid < 0 || gid >= f.Count() {
		return Glyph{}
	}
	segs, _, err := f.font.LoadGlyph(tables.GlyphID(gid))
	if err != nil {
		return Glyph{}
	}
	g.Advance = f.widths(gid) * f.Matrix.A
	for _, c := range contours(segs, 1) {
		g.Contours = append(g.Contours, c.Transform(f.Matrix))
	}
	return g
}

// structure reads the top dictionary and what it points to. Anything odd
// leaves the defaults.
func (f *CFF) structure(b []byte) {
	at := int(b[2])
	_, at = index(b, at) // names
	tops, at := index(b, at)
	_, _ = index(b, at)
	if len(tops) == 0 {
		return
	}
	top := dict(tops[0])
	if m := top[1207]; len(m) == 6 && m[0]*m[3]-m[1]*m[2] != 0 {
		f.Matrix = geom.Matrix{A: m[0], B: m[1], C: m[2], D: m[3], E: m[4], F: m[5]}
	}
	_, f.CID = top[1230]
	if f.CID {
		// Its font dictionaries may hold the scale instead.
		if fds := top[1236]; len(fds) > 0 && len(top[1207]) == 0 {
			if list, _ := index(b, int(fds[0])); len(list) > 0 {
				if m := dict(list[0])[1207]; len(m) == 6 && m[0]*m[3] != 0 {
					f.Matrix = geom.Matrix{A: m[0], B: m[1], C: m[2], D: m[3], E: m[4], F: m[5]}
				}
			}
		}
		set := top[15]
		if len(set) > 0 && set[0] > 2 {
			f.charset(b[int(set[0]):])
		} else {
			for g := range f.Count() {
				f.cids[g] = g
			}
		}
		return
	}
	enc := 0
	if e := top[16]; len(e) > 0 {
		enc = int(e[0])
	}
	if enc > 1 {
		f.encoding(b[enc:])
	} else if enc == 0 {
		f.Encoding = Named("standard")
	}
	if p := top[18]; len(p) == 2 {
		size, off := int(p[0]), int(p[1])
		priv := dict(b[off : off+size])
		nominal, normal := 0.0, 0.0
		if v := priv[21]; len(v) > 0 {
			nominal = v[0]
		}
		if v := priv[20]; len(v) > 0 {
			normal = v[0]
		}
		f.widths = func(gid int) float64 {
			if w, ok := charWidth(f.font.Charstrings[gid]); ok {
				return nominal + w
			}
			return normal
		}
	}
}

// charset reads the CIDs of the glyphs (formats 0 to 2).
func (f *CFF) charset(b []byte) {
	f.cids[0] = 0
	n := f.Count()
	switch b[0] {
	case 0:
		for g := 1; g < n; g++ {
			f.cids[int(binary.BigEndian.Uint16(b[2*g-1:]))] = g
		}
	case 1, 2:
		p := b[1:]
		for g := 1; g < n; {
			first, left := int(binary.BigEndian.Uint16(p)), int(p[2])
			p = p[3:]
			if b[0] == 2 {
				left = left<<8 | int(p[0])
				p = p[1:]
			}
			for k := 0; k <= left && g < n; k++ {
				f.cids[first+k] = g
				g++
			}
		}
	}
}

// encoding reads codes for the glyphs in order (formats 0 and 1) with their
// supplements left out.
func (f *CFF) encoding(b []byte) {
	name := func(gid int) string { return f.font.GlyphName(ot.GID(gid)) }
	switch n := int(b[1]); b[0] & 0x7f {
	case 0:
		for i := range n {
			f.Encoding[b[2+i]] = name(i + 1)
		}
	case 1:
		g := 1
		for i := range n {
			first, left := int(b[2+2*i]), int(b[3+2*i])
			for k := 0; k <= left && first+k < 256; k++ {
				f.Encoding[first+k] = name(g)
				g++
			}
		}
	}
}

// index returns the objects of an INDEX at a place and where it ends.
func index(b []byte, at int) ([][]byte, int) {
	n := int(binary.BigEndian.Uint16(b[at:]))
	if n == 0 {
		return nil, at + 2
	}
	size := int(b[at+2])
	off := func(i int) int {
		v := 0
		for _, c := range b[at+3+i*size : at+3+(i+1)*size] {
			v = v<<8 | int(c)
		}
		return v
	}
	base := at + 3 + (n+1)*size - 1
	out := make([][]byte, n)
	for i := range n {
		out[i] = b[base+off(i) : base+off(i+1)]
	}
	return out, base + off(n)
}

// dict reads a DICT: operators (12 x as 1200 + x) with their operands.
func dict(b []byte) map[int][]float64 {
	out := map[int][]float64{}
	var args []float64
	for i := 0; i < len(b); {
		c := b[i]
		i++
		switch {
		case c <= 21:
			op := int(c)
			if c == 12 && i < len(b) {
				op = 1200 + int(b[i])
				i++
			}
			out[op] = args
			args = nil
		case c == 28:
			args = append(args, float64(int16(binary.BigEndian.Uint16(b[i:]))))
			i += 2
		case c == 29:
			args = append(args, float64(int32(binary.BigEndian.Uint32(b[i:]))))
			i += 4
		case c == 30:
			v, n := realNumber(b[i:])
			args = append(args, v)
			i += n
		case c >= 32 && c <= 246:
			args = append(args, float64(c)-139)
		case c >= 247 && c <= 250:
			args = append(args, float64(int(c)-247)*256+float64(b[i])+108)
			i++
		case c >= 251 && c <= 254:
			args = append(args, -float64(int(c)-251)*256-float64(b[i])-108)
			i++
		}
	}
	return out
}

// charWidth returns the width at the start of a Type 2 charstring: the number
// beyond what its first operator takes (Technical Note 5177, 3.1).
func charWidth(code []byte) (float64, bool) {
	var v []float64
	for i := 0; i < len(code); {
		b := code[i]
		i++
		switch {
		case b == 28 && i+1 < len(code):
			v = append(v, float64(int16(binary.BigEndian.Uint16(code[i:]))))
			i += 2
			continue
		case b >= 32 && b <= 246:
			v = append(v, float64(b)-139)
			continue
		case b >= 247 && b <= 250 && i < len(code):
			v = append(v, float64(int(b)-247)*256+float64(code[i])+108)
			i++
			continue
		case b >= 251 && b <= 254 && i < len(code):
			v = append(v, -float64(int(b)-251)*256-float64(code[i])-108)
			i++
			continue
		case b == 255 && i+3 < len(code):
			v = append(v, float64(int32(binary.BigEndian.Uint32(code[i:])))/65536)
			i += 4
			continue
		}
		switch b {
		case 1, 3, 18, 23, 19, 20: // stems and masks take pairs
			if len(v)%2 == 1 {
				return v[0], true
			}
		case 4, 22: // one number
			if len(v) > 1 {
				return v[0], true
			}
		case 21:
			if len(v) > 2 {
				return v[0], true
			}
		case 14:
			if len(v) == 1 || len(v) == 5 {
				return v[0], true
			}
		case 10, 29: // a subroutine: the width can't be told apart without running it
			if len(v) == 2 || len(v) == 3 || len(v)%2 == 0 && len(v) > 2 {
				return v[0], true
			}
		}
		break
	}
	return 0, false
}

// realNumber reads the packed decimal number of a CFF DICT and how many bytes
// it takes.
func realNumber(b []byte) (float64, int) {
	var s strings.Builder
	for i, c := range b {
		for _, d := range [2]byte{c >> 4, c & 15} {
			switch {
			case d < 10:
				s.WriteByte('0' + d)
			case d == 10:
				s.WriteByte('.')
			case d == 11:
				s.WriteByte('E')
			case d == 12:
				s.WriteString("E-")
			case d == 14:
				s.WriteByte('-')
			case d == 15:
				v, _ := strconv.ParseFloat(s.String(), 64)
				return v, i + 1
			}
		}
	}
	return 0, len(b)
}
