// Package units reads and writes measures as people do.
package units

import (
	"errors"
	"fmt"
	"math"
	"regexp"
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

// ErrUnclear is the refusal of a number that is read in two ways.
type ErrUnclear struct{ Text, Or, Instead string }

func (e *ErrUnclear) Error() string {
	return fmt.Sprintf("%s can be %s or %s; write %s or %s", e.Text, e.Or, e.Instead, e.Or, e.Instead)
}

// ParseLength reads a length such as "8", "2cm", "3/8 in" or "12+0.4" and
// returns mm. A number without a unit takes the next unit behind it, or unit.
// Commas and points part whole numbers from decimals or thousands from each other;
// where both are possible, as in "1,000", it returns *ErrUnclear. The page reads by the same
// rules (static/js/lib/length.js), and both are tested against testdata/measures.json.
func ParseLength(s, unit string) (float64, error) {
	var unclear error
	bad := func() (float64, error) {
		if unclear != nil {
			return 0, unclear
		}
		return 0, fmt.Errorf("%q is not a length; write it like 8, 2cm, 3/8 in or 12+0.4", s)
	}
	rest := strings.ToLower(strings.TrimSpace(s))
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
		v, r, err := product(rest)
		if err != nil {
			var e *ErrUnclear
			if errors.As(err, &e) {
				unclear = e
			}
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
func product(s string) (float64, string, error) {
	v, op := 1.0, byte('*')
	for {
		s = strings.TrimSpace(s)
		n := 0
		for n < len(s) && (s[n] >= '0' && s[n] <= '9' || s[n] == '.' || s[n] == ',') {
			n++
		}
		x, err := number(s[:n])
		if err != nil {
			return 0, s, err
		}
		if op == '*' {
			v *= x
		} else {
			v /= x
		}
		s = strings.TrimSpace(s[n:])
		if s == "" || s[0] != '*' && s[0] != '/' {
			return v, s, nil
		}
		op, s = s[0], s[1:]
	}
}

// The ways in which people write thousands: all groups behind the first have three digits. thousand
// is a number that may also be a decimal one.
var (
	byCommas = regexp.MustCompile(`^\d{1,3}(,\d{3})+$`)
	byPoints = regexp.MustCompile(`^\d{1,3}(\.\d{3})+$`)
	thousand = regexp.MustCompile(`^[1-9]\d{0,2},\d{3}$`)
)

// number reads digits with commas and points.
func number(s string) (float64, error) {
	commas, points := strings.Count(s, ","), strings.Count(s, ".")
	whole := func(s, by string) string { return strings.ReplaceAll(s, by, "") }
	switch {
	case thousand.MatchString(s):
		return 0, &ErrUnclear{s, strings.ReplaceAll(s, ",", "."), whole(s, ",")}
	case commas == 0 && points <= 1:
	case commas == 1 && points == 0:
		s = strings.ReplaceAll(s, ",", ".")
	case points == 0 && byCommas.MatchString(s):
		s = whole(s, ",")
	case commas == 0 && byPoints.MatchString(s):
		s = whole(s, ".")
	default: // the last one parts the decimals
		at := strings.LastIndexAny(s, ",.")
		head, by, groups := "", ",", byCommas
		if at >= 0 {
			head = s[:at]
			if s[at] == ',' {
				by, groups = ".", byPoints
			}
		}
		if !groups.MatchString(head) {
			return 0, errors.New("no number")
		}
		s = whole(head, by) + "." + s[at+1:]
	}
	return strconv.ParseFloat(s, 64)
}
