package ps

import (
	"context"
	"encoding/ascii85"
	"encoding/binary"
	"math"
	"os"
	"strings"
	"testing"
	"time"

	"bildhauer/core/artwork"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/font/forge"
	"bildhauer/core/read/trace"
	"bildhauer/core/write"
	"bildhauer/internal/worktime"
)

const head = "%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 100 100\n"

func mustRead(t *testing.T, program string) *artwork.Sheet {
	t.Helper()
	s, err := try("a.eps", []byte(head+program))
	if err != nil {
		t.Fatalf("%v\n%s", err, program)
	}
	return s
}

// area returns the area of a shape in square points, clips applied.
func area(t *testing.T, sh *artwork.Shape) float64 {
	t.Helper()
	r, err := write.Resolve(sh, 0.002, 1.0/4096)
	if err != nil {
		t.Fatal(err)
	}
	return float64(r.Area2()) / 2 / 4096 / 4096 / pxPerPt / pxPerPt
}

// TestPaints runs programs that paint one shape each and compares its area
// and colour.
func TestPaints(t *testing.T) {
	pi := math.Pi
	for _, c := range []struct {
		name, program string
		want          float64
		color         string
	}{
		{"square", "0 0 moveto 10 0 rlineto 0 10 rlineto -10 0 rlineto closepath fill", 100, "#000000"},
		{"transforms", "gsave 2 dup scale 5 0 translate 30 rotate 0 0 10 5 rectfill grestore", 200, "#000000"},
		{"circle, even-odd", "50 50 20 0 360 arc closepath 60 50 moveto 50 50 10 0 360 arc eofill", pi * 300, "#000000"},
		{"clockwise hole, nonzero", "50 50 20 0 360 arc closepath 60 50 moveto 50 50 10 360 0 arcn fill", pi * 300, "#000000"},
		{
			"procedures and loops",
			"/sq {4 copy pop pop moveto exch dup 0 rlineto exch 0 exch rlineto neg 0 rlineto closepath} bind def 0 " +
				"1 4 {20 mul 0 10 10 sq pop pop} for 0 0 1 setrgbcolor fill",
			500,
			"#0000ff",
		},
		{"stroke", "2 setlinewidth 10 10 moveto 30 10 lineto stroke", 40, "#000000"},
		{"stroke under a stretch", "1 3 scale 2 setlinewidth 10 10 moveto 30 10 lineto stroke", 120, "#000000"},
		{"dashes", "2 setlinewidth [3 2] 0 setdash 0 10 moveto 20 10 lineto stroke", 24, "#000000"},
		{"a line of no width", "0 setlinewidth 10 10 moveto 30 10 lineto stroke", 20 * 0.1, "#000000"},
		{"a very thin line", "0.01 setlinewidth 10 10 moveto 30 10 lineto stroke", 20 * 0.1, "#000000"},
		{"a thin line keeps its width", "0.03 setlinewidth 10 10 moveto 30 10 lineto stroke", 0.6, "#000000"},
		{"a rule drawn as one dot", "10 10 translate 30 2 scale 1 1 true [1 0 0 1 0 0] {<80>} imagemask", 60, "#000000"},
		{"strokepath", "4 setlinewidth 1 setlinecap 10 10 moveto 30 10 lineto strokepath fill", 80 + 4*pi, "#000000"},
		{"clip", "0 0 10 10 rectclip 1 0 0 0 setcmykcolor 0 0 10 0 360 arc fill", pi * 25, "#00adef"},
		{"clip undone", "gsave 0 0 1 1 rectclip grestore 0 0 5 5 rectfill", 25, "#000000"},
		{"arct", "0 0 moveto 20 0 20 20 5 arct 20 20 lineto 0 20 lineto closepath fill", 400 - (25 - pi*25/4), "#000000"},
		{"grey, hsb", "0.5 setgray 0 0 5 5 rectfill", 25, "#808080"},
		{"hsb", "0.33333 1 1 sethsbcolor 0 0 5 5 rectfill", 25, "#00ff00"},
		{"separation", "[/Separation (Buoy Red) /DeviceCMYK {dup 0 exch dup 0}] setcolorspace 1 setcolor 0 0 5 5 rectfill", 25, "#ed1c24"},
		{"indexed", "[/Indexed /DeviceRGB 1 <000000 336699>] setcolorspace 1 setcolor 0 0 5 5 rectfill", 25, "#336699"},
		{"errors that are caught", "{nonsense} stopped {0 0 5 5 rectfill} if", 25, "#000000"},
		{"dictionaries", "/d 5 dict def d begin /w 7 def end d /w get 0 0 3 -1 roll 2 rectfill", 14, "#000000"},
		{"strings", "(12.5) cvr 0 0 3 -1 roll 2 rectfill", 25, "#000000"},
		{"forms", "<</FormType 1 /BBox [0 0 9 9] /Matrix [2 0 0 2 0 0] /PaintProc {pop 0 0 5 5 rectfill}>> execform", 100, "#000000"},
		{"an image between", "8 8 1 [8 0 0 -8 0 8] {currentfile 8 string readhexstring pop} image\n0123456789abcdef\n0 0 5 5 rectfill", 25, "#000000"},
		{"exit and loops", "0 {1 add dup 5 eq {exit} if} loop 0 0 3 -1 roll 5 rectfill", 25, "#000000"},
		{"second page not painted", "0 0 5 5 rectfill showpage 0 0 50 50 rectfill", 25, "#000000"},
	} {
		s := mustRead(t, c.program)
		if len(s.Shapes) != 1 {
			t.Errorf("%s: %d shapes", c.name, len(s.Shapes))
			continue
		}
		if got := area(t, &s.Shapes[0]); math.Abs(got-c.want) > 0.003*c.want+0.02 ||
			s.Shapes[0].Color.Hex() != c.color {
			t.Errorf("%s: area %.3f %s, want %.3f %s", c.name, got, s.Shapes[0].Color.Hex(), c.want, c.color)
		}
	}
}

// TestFilteredAndBinaryPrograms runs a program hidden in ASCII base 85 with
// binary tokens, and one behind a DOS header.
func TestFilteredAndBinaryPrograms(t *testing.T) {
	bin := []byte{136, 0, 136, 0, 136, 5, 134, 0, 7, 146, 128} // 0 0 5 7 rectfill
	enc := make([]byte, ascii85.MaxEncodedLen(len(bin)))
	enc = enc[:ascii85.Encode(enc, bin)]
	s := mustRead(t, "currentfile /ASCII85Decode filter cvx exec\n"+string(enc)+"~>\n")
	if a := area(t, &s.Shapes[0]); math.Abs(a-35) > 0.1 {
		t.Errorf("area %g", a)
	}
	body := []byte(head + "0 0 3 3 rectfill")
	dos := make([]byte, 30)
	copy(dos, []byte{0xC5, 0xD0, 0xD3, 0xC6})
	binary.LittleEndian.PutUint32(dos[4:], 30)
	binary.LittleEndian.PutUint32(dos[8:], uint32(len(body)))
	if s, err := try("b.eps", append(append(dos, body...), "PREVIEW PREVIEW"...)); err != nil ||
		len(s.Shapes) != 1 {
		t.Errorf("behind a DOS header: %v", err)
	}
}

// TestLimits holds that programs without end, or without bounds, get a
// sentence soon.
func TestLimits(t *testing.T) {
	for name, c := range map[string][2]string{
		"endless loop":      {"{} loop", "more steps than a drawing should"},
		"endless recursion": {"/f {f f} def f", "execstackoverflow"},
		"endless stack":     {"{1} loop", "stackoverflow"},
		"large array":       {"1000000000 array", "limitcheck"},
		"many arrays":       {"{3000000 string pop} loop", "keeps more values"},
		"braces":            {strings.Repeat("{", 100_000), "limitcheck"},
		"nothing":           {"showpage", "paints nothing"},
		"unknown operator":  {"0 0 sprocket", `operator "sprocket" (undefined)`},
	} {
		start := worktime.Spent()
		_, err := try("x.eps", []byte(head+c[0]))
		if err == nil || !strings.Contains(err.Error(), c[1]) {
			t.Errorf("%s: %v, want %q", name, err, c[1])
		}
		if d := worktime.Spent() - start; d > 5*time.Second {
			t.Errorf("%s: took %v", name, d)
		}
	}
}

func FuzzEPS(f *testing.F) {
	for _, name := range []string{"gull-crest.eps", "rope-mark.ai"} {
		data, err := os.ReadFile("../../../demo/" + name)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(data)
	}
	f.Add(
		[]byte(
			head + forge.Type1() + "cleartomark /Forge findfont 9 scalefont setfont 5 5 moveto (ABa) show <41> stringwidth pop pop",
		),
	)
	f.Add(
		[]byte(
			head + "%AI5_FileFormat 3\n1 1 1 1 0 0 0 1 2 3 Lb (L) Ln *u 0 0 m 9 0 l 9 9 9 0 v f *U q h W n Q 0 To 1 0 0 1 " +
				"5 5 0 Tp TP /_Courier 9 Tf (I) Tx TO (g) 0 2 Bd 0 50 0 %_Bs\n BD Bb 1 (g) 0 0 0 9 1 0 0 1 0 0 Bg f 0 BB LB",
		),
	)
	f.Add(
		[]byte(
			head + "currentfile /ASCIIHexDecode filter /FlateDecode filter cvx exec 00> << /ShadingType 2 /ColorSpace /DeviceGray " +
				"/Coords [0 0 9 0] /Function << /FunctionType 2 /Domain [0 1] /N 1 >> >> shfill << /PatternType 1 /PaintType " +
				"1 /BBox [0 0 9 9] /XStep 9 /YStep 9 /PaintProc {pop 0 0 3 3 rectfill} >> matrix makepattern setpattern 0 0 9 9 rectfill",
		),
	)
	f.Add(
		[]byte(
			head + "/a [1 2 (x) {dup}] def a 0 get 5 5 moveto 9 9 lineto 4 array astore 0 0 9 9 rectfill <</x 1>> begin x " +
				"end (a b) ( ) search pop pop pop pop",
		),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		if len(data) > 20_000 {
			return
		}
		s, err := try("f.eps", data)
		if err != nil {
			return
		}
		for i := range s.Shapes {
			s.Shapes[i].Box()
		}
	})
}

// try reads within a budget.
func try(name string, data []byte) (*artwork.Sheet, error) {
	return budget.Within(context.Background(), func(b *budget.Budget) (*artwork.Sheet, error) {
		return Read(name, data, nil, 0, trace.Settings{}, b)
	})
}
