package font

import (
	"slices"
	"strings"
	"testing"

	"golang.org/x/text/unicode/bidi"
)

// visual sets a line: capitals stand for letters that run from right to left, as in the examples
// of UAX 9, and are shown so; brackets are not mirrored.
func visual(text string, rightToLeft bool, force func(int) (bidi.Class, bool)) string {
	runes := []rune(text)
	for i, c := range runes {
		if c >= 'A' && c <= 'Z' {
			runes[i] = 0x05d0 + c - 'A'
		}
	}
	levels := Levels(runes, rightToLeft, force)
	var out strings.Builder
	for _, i := range Visual(levels) {
		out.WriteByte(text[i])
	}
	return out.String()
}

// TestDirections sets lines of both directions, with numbers and signs between them.
func TestDirections(t *testing.T) {
	for _, c := range []struct {
		text string
		rtl  bool
		want string
	}{
		{"car means CAR.", false, "car means RAC."},
		{"<car MEANS CAR.=", false, "<car RAC SNAEM.="}, // UAX 9, 3.4, without its embeddings
		{"CAR MEANS car", true, "car SNAEM RAC"},
		{"ABC 123 DEF", false, "FED 123 CBA"},
		{"ABC 12.5 DEF", true, "FED 12.5 CBA"},
		{"abc 12 DEF", false, "abc 12 FED"},
		{"A+1", false, "1+A"},
		{"1+2 A", true, "A 1+2"},
		{"ABC! def", true, "def !CBA"},
		{"A $5 B", true, "B $5 A"},
		{"", false, ""},
	} {
		if got := visual(c.text, c.rtl, nil); got != c.want {
			t.Errorf("%q from the right %v: %q, want %q", c.text, c.rtl, got, c.want)
		}
	}
	all := func(int) (bidi.Class, bool) { return bidi.R, true }
	if got := visual("over 12", false, all); got != "21 revo" {
		t.Errorf("overridden: %q", got)
	}
}

// TestDirectionsAgreeWithTheLibrary compares which letters run from right to left with the
// library of the text package, which tells directions but no levels, on lines without numbers.
func TestDirectionsAgreeWithTheLibrary(t *testing.T) {
	letters := []rune("ab אב . -, ")
	seed := uint32(1)
	for n := range 3000 {
		line := make([]rune, 1+n%12)
		for i := range line[:len(line)-1] {
			seed = seed*1664525 + 1013904223
			line[i] = letters[seed>>16%uint32(len(letters))]
		}
		line[len(line)-1] = letters[n%2] // space at the end goes by the line
		var p bidi.Paragraph
		first := slices.IndexFunc(line, func(r rune) bool { return r >= 'a' }) // the library goes by it
		rtl := line[first] >= 0x5d0
		p.SetString(string(line))
		order, err := p.Order()
		if err != nil {
			t.Fatal(err)
		}
		want, got := make([]byte, len(line)), make([]byte, len(line))
		for i := range order.NumRuns() {
			r := order.Run(i)
			from, to := r.Pos()
			for k := from; k <= to; k++ {
				want[k] = '0' + byte(r.Direction())
			}
		}
		for i, l := range Levels(line, rtl, nil) {
			got[i] = '0' + byte(l%2)
		}
		if string(want) != string(got) {
			t.Errorf("%q from the right %v: %s, the library says %s", string(line), rtl, got, want)
		}
	}
}
