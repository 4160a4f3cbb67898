package font

import (
	"encoding/binary"
	"errors"
	"sort"
)

// Embedded is a TrueType or OpenType font as artwork files hold it: often
// without the tables that a font file must have.
type Embedded struct {
	*Face
	mac, symbol, unicode map[int]int // code -> glyph, of the tables (1,0), (3,0) and (3,1)
}

// ParseEmbedded reads a font program. What the library insists on and the
// program lacks is made up.
func ParseEmbedded(data []byte) (e *Embedded, err error) {
	defer func() {
		if recover() != nil {
			e, err = nil, errors.New("is a font with damaged tables")
		}
	}()
	tables, order, err := sfntTables(data)
	if err != nil {
		return nil, err
	}
	if len(tables["head"]) < 54 || len(tables["maxp"]) < 6 {
		return nil, errors.New("is a font without its main tables")
	}
	e = &Embedded{}
	e.cmaps(tables["cmap"])
	// An empty table of characters: glyphs are found by the maps above.
	empty := []byte{
		0,
		0,
		0,
		1,
		0,
		3,
		0,
		1,
		0,
		0,
		0,
		12,
		0,
		4,
		0,
		24,
		0,
		0,
		0,
		2,
		0,
		2,
		0,
		0,
		0,
		0,
		0xff,
		0xff,
		0,
		0,
		0xff,
		0xff,
		0,
		1,
		0,
		0,
	}
	keep := map[string][]byte{"cmap": empty}
	for _, t := range order {
		switch t {
		case "head", "maxp", "hhea", "hmtx", "loca", "glyf", "CFF ", "post":
			keep[t] = tables[t]
		}
	}
	if h := keep["hhea"]; len(h) < 36 || len(keep["hmtx"]) < 4 {
		h = make([]byte, 36)
		binary.BigEndian.PutUint32(h, 0x10000)
		binary.BigEndian.PutUint16(h[34:], 1)
		keep["hhea"], keep["hmtx"] = h, make([]byte, 4+2*int(binary.BigEndian.Uint16(keep["maxp"][4:])))
	}
	f, err := ParseFace(buildSfnt(data[:4], keep))
	if err != nil && keep["post"] != nil {
		delete(keep, "post")
		f, err = ParseFace(buildSfnt(data[:4], keep))
	}
	if err != nil {
		return nil, err
	}
	e.Face = f
	return e, nil
}

// Code returns the glyph of a code in the font's own tables: symbol first, at
// the code itself or in the private area, then that of the Macintosh.
func (e *Embedded) Code(code int) int {
	for _, hi := range []int{0xF000, 0, 0xF100, 0xF200} {
		if g, ok := e.symbol[hi+code]; ok && g > 0 {
			return g
		}
	}
	if g, ok := e.mac[code]; ok && g > 0 {
		return g
	}
	return -1
}

// ByRune implements Program.
func (e *Embedded) ByRune(r rune) int {
	if g, ok := e.unicode[int(r)]; ok {
		return g
	}
	return -1
}

// ByName implements Program.
func (e *Embedded) ByName(name string) int {
	if g, ok := e.names()[name]; ok {
		return g
	}
	if r := RuneOf(name); r != 0 {
		if g := e.ByRune(r); g > 0 {
			return g
		}
		// A Macintosh table speaks of the same letter by its code there.
		for code, n := range Named("macroman") {
			if n == name && e.mac[code] > 0 {
				return e.mac[code]
			}
		}
	}
	return -1
}

func sfntTables(b []byte) (map[string][]byte, []string, error) {
	if len(b) >= 16 && string(b[:4]) == "ttcf" {
		off := int(binary.BigEndian.Uint32(b[12:]))
		if off < 0 || off+12 > len(b) {
			return nil, nil, errors.New("is a damaged font collection")
		}
		return sfntAt(b, off)
	}
	return sfntAt(b, 0)
}

func sfntAt(b []byte, at int) (map[string][]byte, []string, error) {
	if len(b) < at+12 {
		return nil, nil, errors.New("is not a font")
	}
	n := int(binary.BigEndian.Uint16(b[at+4:]))
	out := map[string][]byte{}
	var order []string
	for i := range n {
		e := at + 12 + 16*i
		if e+16 > len(b) {
			break
		}
		off, size := int(binary.BigEndian.Uint32(b[e+8:])), int(binary.BigEndian.Uint32(b[e+12:]))
		if off > len(b) {
			continue
		}
		out[string(b[e:e+4])] = b[off:min(len(b), off+size)]
		order = append(order, string(b[e:e+4]))
	}
	return out, order, nil
}

func buildSfnt(version []byte, tables map[string][]byte) []byte {
	var tags []string
	for t, b := range tables {
		if b != nil {
			tags = append(tags, t)
		}
	}
	sort.Strings(tags)
	if string(version) == "ttcf" {
		version = []byte{0, 1, 0, 0}
	}
	out := make([]byte, 12+16*len(tags))
	copy(out, version)
	binary.BigEndian.PutUint16(out[4:], uint16(len(tags)))
	for i, t := range tags {
		e := out[12+16*i:]
		copy(e, t)
		binary.BigEndian.PutUint32(e[8:], uint32(len(out)))
		binary.BigEndian.PutUint32(e[12:], uint32(len(tables[t])))
		out = append(out, tables[t]...)
		for len(out)%4 != 0 {
			out = append(out, 0)
		}
	}
	return out
}

// cmaps reads the character tables of the formats 0, 4, 6 and 12.
func (e *Embedded) cmaps(b []byte) {
	e.mac, e.symbol, e.unicode = map[int]int{}, map[int]int{}, map[int]int{}
	if len(b) < 4 {
		return
	}
	n := int(binary.BigEndian.Uint16(b[2:]))
	for i := range n {
		r := 4 + 8*i
		if r+8 > len(b) {
			return
		}
		platform, kind := binary.BigEndian.Uint16(b[r:]), binary.BigEndian.Uint16(b[r+2:])
		off := int(binary.BigEndian.Uint32(b[r+4:]))
		if off+8 > len(b) {
			continue
		}
		into := e.unicode
		switch {
		case platform == 1:
			into = e.mac
		case platform == 3 && kind == 0:
			into = e.symbol
		case platform != 3 && platform != 0:
			continue
		}
		readCmap(b[off:], into)
	}
}

func readCmap(b []byte, into map[int]int) {
	defer func() { _ = recover() }() // a table cut short keeps what it has
	u16 := func(i int) int { return int(binary.BigEndian.Uint16(b[i:])) }
	switch u16(0) {
	case 0:
		for c := range 256 {
			into[c] = int(b[6+c])
		}
	case 4:
		n := u16(6)
		for s := 0; s < n; s += 2 {
			end, start := u16(14+s), u16(16+n+s)
			delta, off := u16(16+2*n+s), u16(16+3*n+s)
			for c := start; c <= end && c < 0xffff; c++ {
				g := c
				if off != 0 {
					if g = u16(16 + 3*n + s + off + 2*(c-start)); g == 0 {
						continue
					}
				}
				into[c] = (g + delta) & 0xffff
			}
		}
	case 6:
		for i := range u16(8) {
			into[u16(6)+i] = u16(10 + 2*i)
		}
	case 12:
		u32 := func(i int) int { return int(binary.BigEndian.Uint32(b[i:])) }
		for i := range min(u32(12), 10_000) {
			g := 16 + 12*i
			for c := u32(g); c <= u32(g+4) && c-u32(g) < 70_000; c++ {
				into[c] = u32(g+8) + c - u32(g)
			}
		}
	}
}

// CFFTable returns the CFF font in an OpenType file, or the data themselves
// when they are a bare CFF font; nil for others.
func CFFTable(b []byte) []byte {
	if len(b) > 4 && b[0] == 1 && b[1] == 0 && b[2] >= 4 {
		if string(b[:4]) != "\x00\x01\x00\x00" {
			return b
		}
	}
	t, _, err := sfntTables(b)
	if err != nil {
		return nil
	}
	return t["CFF "]
}
