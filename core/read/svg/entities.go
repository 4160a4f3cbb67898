package svg

import (
	"bytes"
	"regexp"
	"strings"

	"bildhauer/core/read/budget"
	"bildhauer/core/read/fault"
)

// Entities of the file's own DOCTYPE (XML 1.0, section 4) stand for text, or for pieces of the
// drawing that it has several times. They are written out before the document is parsed.

// The bounds of entities: editors declare a dozen names of namespaces; and what nests deeper
// than this, or grows a file by more than this, serves to blow it up.
const (
	mostEntities  = 1000
	entityNesting = 8
	entityGrowth  = 16 << 20
)

var entityDecl = regexp.MustCompile(
	`<!ENTITY\s+(%\s+)?([\w.:-]+)\s+(SYSTEM|PUBLIC)?\s*(?:"([^"]*)"|'([^']*)')`,
)

// expanded returns the document with its own entities written out.
func expanded(data []byte, b *budget.Budget) ([]byte, error) {
	at := bytes.Index(data, []byte("<!DOCTYPE"))
	if at < 0 || bytes.IndexByte(data[:at], '&') >= 0 {
		return data, nil
	}
	end := doctypeEnd(data[at:])
	if end < 0 {
		return data, nil
	}
	e := &entities{values: map[string]string{}, b: b}
	for _, m := range entityDecl.FindAllSubmatch(data[at:at+end], -1) {
		switch {
		case len(m[1]) > 0 || len(m[3]) > 0:
			return nil, fault.New(
				"refers to another file by an entity (%q), which is not allowed. Remove its DOCTYPE or save it again",
				m[2],
			)
		case len(e.values) >= mostEntities:
			return nil, fault.New("declares more than %d entities. Remove its DOCTYPE or save it again", mostEntities)
		}
		if _, ok := e.values[string(m[2])]; !ok { // the first one holds
			e.values[string(m[2])] = string(m[4]) + string(m[5])
		}
	}
	if len(e.values) == 0 {
		return data, nil
	}
	e.out = make([]byte, 0, len(data)+len(data)/4)
	e.out = append(e.out, data[:at]...)
	e.most = len(data) + entityGrowth
	if err := e.write(string(data[at+end:]), 0); err != nil {
		return nil, err
	}
	return e.out, nil
}

// doctypeEnd returns where a DOCTYPE ends, past its last bracket, or -1.
func doctypeEnd(data []byte) int {
	deep, quote := 0, byte(0)
	for i, c := range data {
		switch {
		case quote != 0:
			if c == quote {
				quote = 0
			}
		case c == '"' || c == '\'':
			quote = c
		case c == '[':
			deep++
		case c == ']':
			deep--
		case c == '>' && deep == 0:
			return i + 1
		}
	}
	return -1
}

// entities writes text out with what its references stand for.
type entities struct {
	values map[string]string
	b      *budget.Budget
	out    []byte
	most   int
}

func (e *entities) write(s string, depth int) error {
	if depth > entityNesting {
		return fault.New(
			"defines entities by other entities more than %d deep, which is not allowed. Remove its DOCTYPE or save it again",
			entityNesting,
		)
	}
	for s != "" {
		i := strings.IndexAny(s, "&<")
		if i < 0 {
			return e.put(s)
		}
		if s[i] == '<' { // comments and raw data hold no references
			j := i + 1 + skipped(s[i:])
			if err := e.put(s[:j]); err != nil {
				return err
			}
			s = s[j:]
			continue
		}
		if err := e.put(s[:i]); err != nil {
			return err
		}
		name, rest, ok := strings.Cut(s[i+1:], ";")
		value, known := e.values[name]
		if !ok || !known {
			if err := e.put("&"); err != nil {
				return err
			}
			s = s[i+1:]
			continue
		}
		if err := e.write(value, depth+1); err != nil {
			return err
		}
		s = rest
	}
	return nil
}

// skipped returns how far a comment or raw data reaches beyond the sign that it begins with; 0
// for neither.
func skipped(s string) int {
	for _, c := range [...][2]string{{"<!--", "-->"}, {"<![CDATA[", "]]>"}} {
		if strings.HasPrefix(s, c[0]) {
			if end := strings.Index(s, c[1]); end >= 0 {
				return end + len(c[1]) - 1
			}
			return len(s) - 1
		}
	}
	return 0
}

func (e *entities) put(s string) error {
	e.b.Spend(budget.Bytes, len(s))
	if len(e.out)+len(s) > e.most {
		return fault.New("grows by more than %d MB when its entities are written out. Remove its DOCTYPE or save it again", entityGrowth>>20)
	}
	e.out = append(e.out, s...)
	return nil
}
