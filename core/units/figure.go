package units

import (
	"math"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Figure writes a number without needless zeros: two decimals, or as many as a
// small number needs to show two digits.
func Figure(v float64) string {
	digits := 2
	if a := math.Abs(v); a > 0 && a < 0.1 {
		digits = 1 - int(math.Floor(math.Log10(a)))
	}
	s := strconv.FormatFloat(v, 'f', min(digits, 9), 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	if s == "-0" {
		return "0"
	}
	return s
}

// MM writes a length with its unit.
func MM(v float64) string { return Figure(v) + " mm" }

// Count writes a whole number in groups of three.
func Count(n int) string {
	s := strconv.Itoa(n)
	sign := ""
	if n < 0 {
		sign, s = "-", s[1:]
	}
	for i := len(s) - 3; i > 0; i -= 3 {
		s = s[:i] + "," + s[i:]
	}
	return sign + s
}

// Plural writes a number with the word for it.
func Plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return Count(n) + " " + many
}

// Round returns v to so many decimals, negative figures as well as positive.
func Round(v float64, decimals int) float64 {
	k := math.Pow10(decimals)
	r := math.Round(v*k) / k
	if r == 0 { // no negative zero
		return 0
	}
	return r
}

// Upper returns a sentence with its first letter as a capital.
func Upper(s string) string {
	r, n := utf8.DecodeRuneInString(s)
	return string(unicode.ToUpper(r)) + s[n:]
}

// Lower returns a sentence with its first letter as a small one.
func Lower(s string) string {
	r, n := utf8.DecodeRuneInString(s)
	return string(unicode.ToLower(r)) + s[n:]
}
