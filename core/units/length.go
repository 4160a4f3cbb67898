// Package units reads and writes measures as people do.
package units

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// MMPerUnit lists the units that people may write, with their length in mm.
var MMPerUnit = map[string]float64{
	"mm": 1,
	"cm": 10,
	"m":  1000,
	"in": 25.4,
	"\"": 25.4,
	"ft": 304.8,
	"pt": 25.4 / 72,
	"px": 25.4 / 96,
	"um": 0.001,
	"µm": 0.001,
}

// ParseLength reads a length such as "8", "2cm", "3/8 in" or "12+0.4" and
// returns mm. A number without a unit takes the next unit behind it, or unit.
func ParseLength(s, unit string) (float64, error) {
	bad := func() (float64, error) {
		return 0, fmt.Errorf("%q is not a length; write it like 8, 2cm, 3/8 in or 12+0.4", s)
	}
	rest := strings.ReplaceAll(strings.ToLower(strings.TrimSpace(s)), ",", ".")
	if rest == "" {
		return bad()
	}
	type term struct {
		v    float64
		unit string
	}
	var terms []term
	sign := 1.0
	for {
		rest = strings.TrimSpace(rest)
		for len(rest) > 0 && (rest[0] == '+' || rest[0] == '-') {
			if rest[0] == '-' {
				sign = -sign
			}
			rest = strings.TrimSpace(rest[1:])
		}
		v, r, ok := product(rest)
		if !ok {
			return bad()
		}
		rest = strings.TrimSpace(r)
		end := strings.IndexAny(rest, " +-")
		if end < 0 {
			end = len(rest)
		}
		u := rest[:end]
		if _, known := MMPerUnit[u]; u != "" && !known {
			return bad()
		}
		rest = strings.TrimSpace(rest[end:])
		terms = append(terms, term{sign * v, u})
		sign = 1
		if rest == "" {
			break
		}
		if rest[0] != '+' && rest[0] != '-' {
			return bad()
		}
	}
	sum := 0.0
	for i := len(terms) - 1; i >= 0; i-- {
		if terms[i].unit != "" {
			unit = terms[i].unit
		}
		sum += terms[i].v * MMPerUnit[unit]
	}
	if math.IsNaN(sum) || math.IsInf(sum, 0) {
		return bad()
	}
	return sum, nil
}

// product reads numbers joined by * and /.
func product(s string) (float64, string, bool) {
	v, op := 1.0, byte('*')
	for {
		s = strings.TrimSpace(s)
		n := 0
		for n < len(s) && (s[n] >= '0' && s[n] <= '9' || s[n] == '.') {
			n++
		}
		x, err := strconv.ParseFloat(s[:n], 64)
		if err != nil {
			return 0, s, false
		}
		if op == '*' {
			v *= x
		} else {
			v /= x
		}
		s = strings.TrimSpace(s[n:])
		if s == "" || s[0] != '*' && s[0] != '/' {
			return v, s, true
		}
		op, s = s[0], s[1:]
	}
}
