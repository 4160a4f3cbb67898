package pdf

import (
	"unicode/utf16"

	"bildhauer/core/read/budget"
)

// cmap maps codes to CIDs or to text (9.7.5, 9.10.3).
type cmap struct {
	lengths []codeRange
	single  map[codeKey]int
	ranges  []cidRange
	text    map[int]string
}

type codeKey struct{ code, n int }
type codeRange struct{ lo, hi, n int }
type cidRange struct{ lo, hi, n, cid int }

func (m *cmap) valid(code, n int) bool {
	for _, r := range m.lengths {
		if r.n == n && code >= r.lo && code <= r.hi {
			return true
		}
	}
	return false
}

func (m *cmap) cid(code, n int) int {
	if c, ok := m.single[codeKey{code, n}]; ok {
		return c
	}
	for _, r := range m.ranges {
		if r.n == n && code >= r.lo && code <= r.hi {
			return r.cid + code - r.lo
		}
	}
	if len(m.single)+len(m.ranges) == 0 {
		return code
	}
	return 0
}

// parseCmap reads the map operators; other maps that it uses are not followed.
func parseCmap(b []byte, limit *budget.Budget) *cmap {
	m := &cmap{single: map[codeKey]int{}, text: map[int]string{}}
	l := &lexer{b: b}
	var args []any
	for {
		o, ok := l.next(0)
		if !ok {
			return m
		}
		op, isOp := o.(operator)
		if !isOp {
			args = append(args, o)
			continue
		}
		val := func(i int) (int, int) {
			s, _ := args[i].(string)
			v := 0
			for k := 0; k < len(s) && k < 4; k++ {
				v = v<<8 | int(s[k])
			}
			return v, len(s)
		}
		limit.Spend(budget.Entries, len(args)+1)
		switch op {
		case "endcodespacerange":
			for i := 0; i+1 < len(args); i += 2 {
				lo, n := val(i)
				hi, _ := val(i + 1)
				m.lengths = append(m.lengths, codeRange{lo, hi, n})
			}
		case "endcidchar":
			for i := 0; i+1 < len(args); i += 2 {
				c, n := val(i)
				v, _ := args[i+1].(float64)
				m.single[codeKey{c, n}] = int(v)
			}
		case "endcidrange":
			for i := 0; i+2 < len(args); i += 3 {
				lo, n := val(i)
				hi, _ := val(i + 1)
				v, _ := args[i+2].(float64)
				m.ranges = append(m.ranges, cidRange{lo, hi, n, int(v)})
			}
		case "endbfchar":
			for i := 0; i+1 < len(args); i += 2 {
				c, _ := val(i)
				s, _ := args[i+1].(string)
				m.text[c] = utf16Text(s, 0)
			}
		case "endbfrange":
			for i := 0; i+2 < len(args); i += 3 {
				lo, _ := val(i)
				hi, _ := val(i + 1)
				list, isList := args[i+2].([]any)
				for c := lo; c <= hi && c-lo < 65536; c++ {
					limit.Spend(budget.Entries, 1)
					if isList {
						if c-lo < len(list) {
							s, _ := list[c-lo].(string)
							m.text[c] = utf16Text(s, 0)
						}
						continue
					}
					s, _ := args[i+2].(string)
					m.text[c] = utf16Text(s, c-lo)
				}
			}
		}
		args = args[:0]
	}
}

// utf16Text decodes big-endian UTF-16 with the last unit raised by add.
func utf16Text(s string, add int) string {
	var u []uint16
	for i := 0; i+1 < len(s); i += 2 {
		u = append(u, uint16(s[i])<<8|uint16(s[i+1]))
	}
	if len(s) == 1 {
		u = []uint16{uint16(s[0])}
	}
	if n := len(u); n > 0 {
		u[n-1] += uint16(add)
	}
	return string(utf16.Decode(u))
}
