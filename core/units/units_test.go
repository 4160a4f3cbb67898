package units

import (
	"encoding/json"
	"errors"
	"math"
	"os"
	"testing"
)

// TestParseLength reads what testdata/measures.json says; the page is tested against the same.
func TestParseLength(t *testing.T) {
	raw, err := os.ReadFile("testdata/measures.json")
	if err != nil {
		t.Fatal(err)
	}
	var vectors struct {
		Lengths []struct {
			Text    string
			MM      *float64
			Unclear bool
		}
	}
	if err := json.Unmarshal(raw, &vectors); err != nil || len(vectors.Lengths) < 40 {
		t.Fatal(err)
	}
	for _, v := range vectors.Lengths {
		got, err := ParseLength(v.Text, "mm")
		var unclear *ErrUnclear
		switch {
		case v.MM != nil && (err != nil || math.Abs(got-*v.MM) > 1e-9*math.Abs(*v.MM)):
			t.Errorf("%q: %g, %v; want %g", v.Text, got, err, *v.MM)
		case v.MM == nil && err == nil:
			t.Errorf("%q taken as %g", v.Text, got)
		case v.Unclear != errors.As(err, &unclear):
			t.Errorf("%q: %v", v.Text, err)
		}
	}
	if _, err := ParseLength("1,000 mm", "mm"); err == nil || err.Error() != "1,000 can be 1.000 or 1000; write 1.000 or 1000" {
		t.Errorf("the refusal is %v", err)
	}
	if got, err := ParseLength("2", "cm"); err != nil || got != 20 {
		t.Errorf("another unit: %g, %v", got, err)
	}
}

// TestFigures writes numbers as screens and messages show them.
func TestFigures(t *testing.T) {
	for v, want := range map[float64]string{
		0: "0", 8: "8", 7.96: "7.96", 7.9649: "7.96", 12.50: "12.5", -3.004: "-3", 100000: "100000", 0.0005: "0.0005", 0.01234: "0.012",
		-0.0004: "-0.0004", 1e-12: "0", 1234.5678: "1234.57",
	} {
		if got := Figure(v); got != want {
			t.Errorf("%g is written %q, want %q", v, got, want)
		}
	}
	for n, want := range map[int]string{0: "0", 7: "7", 999: "999", 1000: "1,000", 2500000: "2,500,000", -12345: "-12,345"} {
		if got := Count(n); got != want {
			t.Errorf("%d is written %q, want %q", n, got, want)
		}
	}
	if Plural(1, "edge", "edges") != "1 edge" || Plural(2500, "edge", "edges") != "2,500 edges" ||
		MM(8) != "8 mm" {
		t.Error("words for numbers")
	}
	for v, want := range map[float64]float64{-3.00006: -3.0001, 3.00006: 3.0001, -0.00001: 0, 2.5: 2.5} {
		if got := Round(v, 4); got != want || math.Signbit(got) != math.Signbit(want) {
			t.Errorf("%g is rounded to %g, want %g", v, got, want)
		}
	}
}

// FuzzParseLength holds that no text breaks it and that what is taken is a
// number.
func FuzzParseLength(f *testing.F) {
	for _, s := range []string{"8", "3/8 in", "12+0.4", "-2cm", "1e9", ".5m", "1,5", "*", "1/0"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		if v, err := ParseLength(s, "mm"); err == nil && (math.IsNaN(v) || math.IsInf(v, 0)) {
			t.Errorf("%q became %g", s, v)
		}
	})
}
