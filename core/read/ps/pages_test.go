package ps

import (
	"context"
	"fmt"
	"math"
	"strings"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/trace"
)

func tryPage(program string, page int, how trace.Settings) (*artwork.Sheet, error) {
	return budget.Within(context.Background(), func(b *budget.Budget) (*artwork.Sheet, error) {
		return Read("a.ps", []byte(program), nil, page, how, b)
	})
}

// TestPages chooses among the pages of a document, with and without the comments that tell
// them: what earlier pages define stays, what they paint or set does not.
func TestPages(t *testing.T) {
	doc := func(comments bool) string {
		var b strings.Builder
		b.WriteString("%!PS-Adobe-3.0\n%%BoundingBox: 0 0 100 100\n/sq {0 0 3 -1 roll dup rectfill} def\n")
		for i, body := range []string{"2 2 scale 10 sq", "/n 30 def 1 0 0 setrgbcolor 20 sq", "n sq"} {
			if comments {
				fmt.Fprintf(&b, "%%%%Page: %d %d\n", i+1, i+1)
			}
			b.WriteString(body + "\nshowpage\n")
		}
		return b.String() + "%%EOF\n"
	}
	for _, comments := range []bool{true, false} {
		for page, want := range []float64{400, 400, 400, 900} {
			s, err := tryPage(doc(comments), page, trace.Settings{})
			if err != nil {
				t.Errorf("page %d, comments %v: %v", page, comments, err)
				continue
			}
			if got := area(t, &s.Shapes[0]); len(s.Shapes) != 1 || math.Abs(got-want) > 1 {
				t.Errorf("page %d, comments %v: %d shapes, area %.0f, want %.0f", page, comments, len(s.Shapes), got, want)
			}
			if hex := s.Shapes[0].Color.Hex(); (hex == "#ff0000") != (page == 2) {
				t.Errorf("page %d, comments %v: %s", page, comments, hex)
			}
			if comments && (s.Pages != 3 || s.PageNumber != max(1, page)) {
				t.Errorf("page %d of %d", s.PageNumber, s.Pages)
			}
		}
	}
	for page, want := range map[int]string{4: "has 3 pages; there is no page 4", 99: "has 3 pages"} {
		if _, err := tryPage(doc(true), page, trace.Settings{}); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("page %d: %v", page, err)
		}
	}
	if _, err := tryPage(doc(false), 4, trace.Settings{}); err == nil || !strings.Contains(err.Error(), "no page 4 that paints anything") {
		t.Errorf("a page that is not there: %v", err)
	}
}

// TestBitmapsInside runs programs with bitmaps: masks become outlines, others if they are asked
// for, whatever operator paints them. The programs go on behind the data.
func TestBitmapsInside(t *testing.T) {
	const place = "gsave 40 40 scale "
	grey := strings.Repeat("0000ffff", 4)
	mask := strings.Repeat("ffffffffff0000000000", 80)
	for name, c := range map[string]struct {
		program string
		area    float64
		color   string
		traced  bool // as a bitmap
	}{
		"grey":   {place + "4 4 8 [4 0 0 -4 0 4] {currentfile 4 string readhexstring pop} image\n" + grey + "\n", 800, "#000000", true},
		"colour": {place + "2 2 8 [2 0 0 -2 0 2] {currentfile 6 string readhexstring pop} false 3 colorimage\n" + strings.Repeat("ff0000ffffff", 2) + "\n", 1800, "#ff0000", true},
		"by a dictionary": {place + "/DeviceGray setcolorspace << /ImageType 1 /Width 4 /Height 4 /BitsPerComponent 8 /Decode [1 0] " +
			"/ImageMatrix [4 0 0 -4 0 4] /DataSource currentfile /ASCIIHexDecode filter >> image\n" + grey + ">\n", 800, "#000000", true},
		"numbers of colours": {place + "[/Indexed /DeviceRGB 1 <ff00000000ff>] setcolorspace << /ImageType 1 /Width 4 /Height 4 /BitsPerComponent 8 " +
			"/Decode [0 255] /ImageMatrix [4 0 0 -4 0 4] /DataSource currentfile /ASCIIHexDecode filter >> image\n" + strings.Repeat("00000101", 4) + ">\n",
			2400, "#0000ff", true}, // the one lies on the other
		"a large mask": {place + "0 0 1 setrgbcolor 80 80 true [80 0 0 -80 0 80] {currentfile 10 string readhexstring pop} imagemask\n" + mask + "\n",
			800, "#0000ff", false},
		"one in black": {place + "8 4 1 [8 0 0 -4 0 4] {<0f>} image\n", 800, "#000000", true},
	} {
		s, err := tryPage(head+c.program+"grestore 0 1 0 setrgbcolor 60 60 5 5 rectfill\n%%EOF\n", 0, trace.Settings{Pictures: true, Speckle: 0.1})
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		sum := 0.0
		for i := range s.Shapes {
			sum += area(t, &s.Shapes[i])
		}
		if math.Abs(sum-25-c.area) > 0.13*c.area {
			t.Errorf("%s: area %.0f, want %.0f", name, sum-25, c.area)
		}
		if got := s.Shapes[0].Color.Hex(); got != c.color {
			t.Errorf("%s: %s, want %s", name, got, c.color)
		}
		if last := s.Shapes[len(s.Shapes)-1]; last.Color.Hex() != "#00ff00" {
			t.Errorf("%s: what comes behind it is lost", name)
		}
		if traced := len(s.Notes) == 1 && strings.HasSuffix(s.Notes[0].Text(), "traced"); traced != c.traced {
			t.Errorf("%s: notes %v", name, s.Notes)
		}
	}
}

// TestPrintMatters reads what concerns inks and plates: it is said once each, and changes no
// outline.
func TestPrintMatters(t *testing.T) {
	s := mustRead(t, "true setoverprint true setoverprint [/Separation (Harbour Gold) /DeviceGray {1 exch sub}] setcolorspace "+
		"1 setcolor 0 0 5 5 rectfill 0.5 setcolor 0 0 2 2 rectfill [/Separation /Black /DeviceGray {1 exch sub}] setcolorspace 1 setcolor 0 0 1 1 rectfill "+
		"<< /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 2 9] /XStep 4 /YStep 9 /PaintProc {pop 0 0 1 setrgbcolor 0 0 2 9 rectfill} >> "+
		"matrix makepattern setpattern 4 setlinewidth 10 20 moveto 30 20 lineto stroke\n%%EOF\n")
	var said []string
	for _, n := range s.Notes {
		said = append(said, n.Text())
	}
	const want = "overprinting, which is a matter of print and not of outlines, ignored; ink Harbour Gold, shown in the colour that the file gives for it"
	if got := strings.Join(said, "; "); got != want {
		t.Errorf("says %s", got)
	}
	fine := mustRead(t, "<< /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 .5 .5] /XStep .5 /YStep .5 /PaintProc "+
		"{pop 1 0 0 setrgbcolor 0 0 .25 .5 rectfill 0 0 1 setrgbcolor .25 0 .25 .5 rectfill} >> matrix makepattern setpattern 0 0 90 90 rectfill "+
		"0 1 0 setrgbcolor 0 0 5 5 rectfill\n%%EOF\n")
	if len(fine.Shapes) != 2 || fine.Shapes[0].Color.Hex() != "#800080" || fine.Shapes[1].Color.Hex() != "#00ff00" ||
		fine.Notes[0].Text() != "pattern became its mean colour" {
		t.Errorf("a fine pattern: %d shapes, %v, %v", len(fine.Shapes), fine.Shapes[0].Color, fine.Notes)
	}
	sum := 0.0
	for i := range s.Shapes {
		if s.Shapes[i].Color.Hex() == "#0000ff" {
			sum += area(t, &s.Shapes[i])
		}
	}
	if math.Abs(sum-40) > 1 {
		t.Errorf("a pattern along a stroke covers %.1f, want 40", sum)
	}
}
