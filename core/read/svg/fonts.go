package svg

import (
	"encoding/base64"
	"math"
	"net/url"
	"strconv"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/read/font"
)

// fontFace is an @font-face rule.
type fontFace struct {
	family, weight, style string
	src                   string
}

func (f *fontFace) set(d decl) {
	switch d.name {
	case "font-family":
		f.family = strings.Trim(d.value, `"' `)
	case "font-weight":
		f.weight = d.value
	case "font-style":
		f.style = d.value
	case "src":
		if strings.Contains(d.value, "data:") || f.src == "" {
			f.src = d.value
		}
	}
}

// embed adds the fonts that the file holds itself.
func (r *reader) embed(faces []fontFace) {
	for _, f := range faces {
		if !strings.Contains(f.src, "data:") {
			if !r.drawsFont(f.src) {
				r.sheet.Note(artwork.NoteFontElsewhere, f.family)
			}
			continue
		}
		data, ok := dataOf(f.src)
		if !ok {
			r.sheet.Note(artwork.NoteFontDamaged, f.family)
			continue
		}
		face, err := font.ParseFace(data)
		if err != nil {
			r.sheet.Note(artwork.NoteFontUnused, f.family, err.Error())
			continue
		}
		face.Family, face.Italic, face.Added = f.family, strings.HasPrefix(f.style, "italic"), true
		face.Weight = fontWeight(f.weight, 400)
		r.fonts.Added = append(r.fonts.Added, face)
	}
}

// drawsFont reports whether a source names a font whose letters are drawn in the document.
func (r *reader) drawsFont(src string) bool {
	n := r.reference(src)
	return n != nil && n.name == "font"
}

// dataOf returns what a data address (RFC 2397) that stands in a text holds.
func dataOf(text string) (data []byte, ok bool) {
	i := strings.Index(text, "data:")
	if i < 0 {
		return nil, false
	}
	raw := text[i:]
	if end := strings.IndexAny(raw, `)"'`); end >= 0 {
		raw = raw[:end]
	}
	head, content, found := strings.Cut(raw, ",")
	if u, err := url.PathUnescape(content); err == nil {
		content = u
	}
	if !strings.HasSuffix(strings.ToLower(head), ";base64") {
		return []byte(content), found
	}
	data, err := base64.StdEncoding.DecodeString(strings.Join(strings.Fields(content), ""))
	return data, err == nil
}

// fontShorthand takes the parts of the font property apart.
func fontShorthand(v string, d map[string]string) {
	f := strings.Fields(v)
	for i, w := range f {
		switch low := strings.ToLower(w); {
		case low == "italic" || low == "oblique":
			d["font-style"] = low
		case low == "bold" || low == "bolder" || low == "lighter":
			d["font-weight"] = low
		case low == "small-caps":
			d["font-variant"] = low
		case low == "normal":
		default:
			if n, err := strconv.Atoi(low); err == nil && n >= 100 {
				d["font-weight"] = low
				continue
			}
			size, _, _ := strings.Cut(low, "/")
			d["font-size"] = size
			if i+1 < len(f) {
				d["font-family"] = strings.Join(f[i+1:], " ")
			}
			return
		}
	}
}

func fontWeight(v string, outer int) int {
	switch v {
	case "", "normal":
		return 400
	case "bold":
		return 700
	case "bolder":
		return min(900, max(700, outer+200))
	case "lighter":
		return max(100, min(400, outer-300))
	}
	if n, err := strconv.ParseFloat(strings.Fields(v)[0], 64); err == nil && n >= 1 && n <= 1000 {
		return int(n)
	}
	return outer
}

// fontSize reads a size with the keywords of CSS.
func (r *reader) fontSize(v string, st *style) float64 {
	if px, ok := map[string]float64{"xx-small": 9, "x-small": 10, "small": 13, "medium": 16, "large": 18, "x-large": 24, "xx-large": 32}[v]; ok {
		return px
	}
	switch v {
	case "smaller":
		return st.fontSize / 1.2
	case "larger":
		return st.fontSize * 1.2
	}
	return r.length(v, st.fontSize, st)
}

// baseline sets how far the letters stand above the line.
func (r *reader) baseline(d map[string]string, st *style, outer float64) {
	switch v := d["baseline-shift"]; v {
	case "", "baseline", "inherit":
	case "super":
		st.rise += outer * 0.4
	case "sub":
		st.rise -= outer * 0.2
	default:
		st.rise += r.length(v, outer, st)
	}
	v := d["dominant-baseline"]
	if a := d["alignment-baseline"]; a != "" {
		v = a
	}
	if v == "" {
		return
	}
	f := r.fonts.Find(
		font.Want{Families: strings.Split(st.family, ","), Weight: st.weight, Italic: st.italic},
	).Face
	up, down := f.Extents()
	st.rise = map[string]float64{"middle": -f.XHeight() / 2, "central": -(up + down) / 2, "hanging": -0.8 * up, "text-before-edge": -up,
		"text-top": -up, "before-edge": -up, "text-after-edge": -down, "text-bottom": -down, "after-edge": -down, "ideographic": -down, "mathematical": -up / 2}[v] * st.fontSize
	if math.IsNaN(st.rise) {
		st.rise = 0
	}
}
