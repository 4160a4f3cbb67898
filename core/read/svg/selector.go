package svg

import (
	"strconv"
	"strings"

	"bildhauer/core/read/budget"
)

// compound is what one element must be (Selectors Level 4, compound selector).
type compound struct {
	before  byte // how it stands to the part before: ' ' below it, '>' its child, '+' next to it, '~' after it
	typ, id string
	classes []string
	tests   []attrTest
	pseudo  []pseudo
	never   bool // it depends on what a drawing by itself never is: hovered, visited
}

// attrTest is an attribute selector.
type attrTest struct {
	name, op, value string // op is "" for mere presence, or = ~= |= ^= $= *=
	fold            bool
}

// pseudo is a pseudo-class.
type pseudo struct {
	name  string
	a, b  int          // of nth-...
	langs []string     // of lang
	any   [][]compound // of not and is
}

// mostParts bounds a selector: what people write has five.
const mostParts = 32

// positional are the pseudo-classes that are nth-... of fixed numbers.
var positional = map[string]pseudo{
	"first-child": {name: "nth-child", b: 1}, "last-child": {name: "nth-last-child", b: 1},
	"first-of-type": {name: "nth-of-type", b: 1}, "last-of-type": {name: "nth-last-of-type", b: 1},
}

// dynamic are those that depend on a person or a browser.
var dynamic = map[string]bool{
	"hover": true, "active": true, "focus": true, "focus-within": true, "focus-visible": true, "visited": true, "target": true,
	"enabled": true, "disabled": true, "checked": true, "before": true, "after": true, "first-line": true, "first-letter": true,
	"selection": true, "host": true, "fullscreen": true,
}

// selectors splits a list at its commas and reads each; nil stands for one that is not
// understood.
func selectors(list string, depth int) (out []*rule) {
	for _, s := range splitOutside(list, ',') {
		p := selecting{s: trim(s), depth: depth}
		r, ok := p.rule()
		if !ok {
			out = append(out, nil)
			continue
		}
		out = append(out, &r)
	}
	return out
}

// splitOutside splits at a sign that stands in no brackets and no quotes.
func splitOutside(s string, at byte) (out []string) {
	deep, quote, from := 0, byte(0), 0
	for i := 0; i < len(s); i++ {
		switch c := s[i]; {
		case c == '\\':
			i++
		case quote != 0:
			if c == quote {
				quote = 0
			}
		case c == '"' || c == '\'':
			quote = c
		case c == '(' || c == '[':
			deep++
		case c == ')' || c == ']':
			deep--
		case c == at && deep == 0:
			out = append(out, s[from:i])
			from = i + 1
		}
	}
	return append(out, s[from:])
}

// selecting reads one selector.
type selecting struct {
	s     string
	depth int // of brackets
	r     rule
}

func (p *selecting) rule() (rule, bool) {
	before := byte(' ')
	for p.s != "" {
		c := compound{before: before}
		n := len(p.s)
		if !p.compound(&c) || len(p.s) == n || len(p.r.parts) == mostParts {
			return p.r, false
		}
		p.r.parts = append(p.r.parts, c)
		rest := strings.TrimLeft(p.s, " \t\n\r\f")
		before = ' '
		if rest != "" && strings.IndexByte(">+~", rest[0]) >= 0 {
			before, rest = rest[0], strings.TrimLeft(rest[1:], " \t\n\r\f")
			if rest == "" {
				return p.r, false
			}
		} else if rest != "" && len(rest) == len(p.s) {
			return p.r, false
		}
		p.s = rest
	}
	return p.r, len(p.r.parts) > 0
}

// compound reads as far as the next space or combinator.
func (p *selecting) compound(c *compound) bool {
	for p.s != "" {
		switch ch := p.s[0]; {
		case ch == '*':
			p.s = strings.TrimPrefix(p.s[1:], "|")
		case ch == '.' || ch == '#':
			p.s = p.s[1:]
			word := p.ident()
			if word == "" {
				return false
			}
			if ch == '.' {
				c.classes = append(c.classes, word)
				p.r.weight += 100
			} else {
				c.id = word
				p.r.weight += 10_000
			}
		case ch == '[':
			if !p.attribute(c) {
				return false
			}
		case ch == ':':
			if !p.pseudo(c) {
				return false
			}
		default:
			word := p.ident()
			if word == "" {
				return true
			}
			if rest, ok := strings.CutPrefix(p.s, "|"); ok { // a namespace
				p.s = rest
				continue
			}
			c.typ = word
			p.r.weight++
		}
	}
	return true
}

// ident reads a name; a backslash takes the next sign as it is.
func (p *selecting) ident() string {
	var b strings.Builder
	i := 0
	for i < len(p.s) {
		c := p.s[i]
		switch {
		case c == '\\' && i+1 < len(p.s):
			i++
			b.WriteByte(p.s[i])
		case c == '-' || c == '_' || c >= '0' && c <= '9' || c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= 0x80:
			b.WriteByte(c)
		default:
			p.s = p.s[i:]
			return b.String()
		}
		i++
	}
	p.s = ""
	return b.String()
}

func (p *selecting) attribute(c *compound) bool {
	// The first closing bracket that is not in quotes ends it.
	quote, end := byte(0), -1
	for i := 1; i < len(p.s); i++ {
		ch := p.s[i]
		if quote != 0 {
			if ch == quote {
				quote = 0
			}
		} else if ch == '"' || ch == '\'' {
			quote = ch
		} else if ch == ']' {
			end = i
			break
		}
	}
	if end < 0 {
		return false
	}
	body := trim(p.s[1:end])
	p.s = p.s[end+1:]
	t := attrTest{name: body}
	if i := strings.IndexByte(body, '='); i > 0 {
		t.op, t.name, t.value = "=", body[:i], trim(body[i+1:])
		if strings.IndexByte("~|^$*", t.name[len(t.name)-1]) >= 0 {
			t.op, t.name = t.name[len(t.name)-1:]+"=", t.name[:len(t.name)-1]
		}
		if v, ok := strings.CutSuffix(t.value, " i"); ok {
			t.fold, t.value = true, trim(v)
		}
		t.value = strings.Trim(strings.TrimSuffix(t.value, " s"), `"'`)
	}
	if i := strings.LastIndexByte(t.name, '|'); i >= 0 { // a namespace
		t.name = t.name[i+1:]
	}
	if t.name = trim(t.name); t.name == "" {
		return false
	}
	c.tests = append(c.tests, t)
	p.r.weight += 100
	return true
}

func (p *selecting) pseudo(c *compound) bool {
	p.s = strings.TrimPrefix(strings.TrimPrefix(p.s, ":"), ":")
	name := strings.ToLower(p.ident())
	arg, has := "", false
	if strings.HasPrefix(p.s, "(") {
		end := closing(p.s)
		if end < 0 {
			return false
		}
		arg, has, p.s = trim(p.s[1:end]), true, p.s[end+1:]
	}
	if name != "where" && name != "not" && name != "is" {
		p.r.weight += 100
	}
	x := pseudo{name: name}
	switch {
	case !has && dynamic[name]:
		c.never = true
		return true
	case !has && (name == "root" || name == "empty" || name == "only-child" || name == "only-of-type" || name == "link"):
	case !has && positional[name].name != "":
		x = positional[name]
	case has && (name == "not" || name == "is" || name == "where" || name == "matches"):
		if p.depth > 3 {
			return false
		}
		most := 0
		for _, r := range selectors(arg, p.depth+1) {
			if r == nil {
				return false
			}
			x.any, most = append(x.any, r.parts), max(most, r.weight)
		}
		if name != "where" {
			p.r.weight += most
		}
	case has && (name == "nth-child" || name == "nth-last-child" || name == "nth-of-type" || name == "nth-last-of-type"):
		var ok bool
		if x.a, x.b, ok = every(arg); !ok {
			return false
		}
	case has && name == "lang":
		for _, l := range strings.Split(arg, ",") {
			x.langs = append(x.langs, strings.ToLower(strings.Trim(trim(l), `"'`)))
		}
	default:
		return false
	}
	c.pseudo = append(c.pseudo, x)
	return true
}

// closing returns where the bracket that a text begins with is closed, or -1.
func closing(s string) int {
	deep := 0
	for i := 0; i < len(s); i++ {
		switch s[i] {
		case '(':
			deep++
		case ')':
			if deep--; deep == 0 {
				return i
			}
		}
	}
	return -1
}

// every reads an+b, odd and even (CSS Syntax 3, section 6).
func every(s string) (a, b int, ok bool) {
	s = strings.ReplaceAll(strings.ToLower(s), " ", "")
	switch s {
	case "odd":
		return 2, 1, true
	case "even":
		return 2, 0, true
	}
	head, tail, has := strings.Cut(s, "n")
	if !has {
		b, err := strconv.Atoi(s)
		return 0, b, err == nil
	}
	switch head {
	case "", "+":
		a = 1
	case "-":
		a = -1
	default:
		var err error
		if a, err = strconv.Atoi(head); err != nil {
			return 0, 0, false
		}
	}
	if tail == "" {
		return a, 0, true
	}
	b, err := strconv.Atoi(tail)
	return a, b, err == nil
}

// holding holds selectors against elements, at the cost of the budget.
type holding struct{ b *budget.Budget }

func (h holding) fits(parts []compound, n *node) bool {
	last := len(parts) - 1
	if !h.fit(&parts[last], n) {
		return false
	}
	if last == 0 {
		return true
	}
	before := parts[:last]
	switch parts[last].before {
	case '>':
		return n.parent != nil && h.fits(before, n.parent)
	case '+':
		return n.prev != nil && h.fits(before, n.prev)
	case '~':
		for m := n.prev; m != nil; m = m.prev {
			if h.fits(before, m) {
				return true
			}
		}
		return false
	}
	for m := n.parent; m != nil; m = m.parent {
		if h.fits(before, m) {
			return true
		}
	}
	return false
}

// fit reports whether an element is what a compound asks for.
func (h holding) fit(c *compound, n *node) bool {
	h.b.Spend(budget.Steps, 1)
	if c.never || c.typ != "" && c.typ != n.name || c.id != "" && c.id != n.attr("id") {
		return false
	}
	for _, want := range c.classes {
		if !word(n.attr("class"), want) {
			return false
		}
	}
	for i := range c.tests {
		if !c.tests[i].fits(n) {
			return false
		}
	}
	for i := range c.pseudo {
		if !h.is(&c.pseudo[i], n) {
			return false
		}
	}
	return true
}

// word reports whether a list of words, parted by spaces, has one.
func word(list, want string) bool {
	for _, have := range strings.Fields(list) {
		if have == want {
			return true
		}
	}
	return false
}

func (t *attrTest) fits(n *node) bool {
	v, ok := n.attrs[t.name]
	want := t.value
	if t.fold {
		v, want = strings.ToLower(v), strings.ToLower(want)
	}
	switch t.op {
	case "":
		return ok
	case "=":
		return ok && v == want
	case "~=":
		return word(v, want)
	case "|=":
		return ok && (v == want || strings.HasPrefix(v, want+"-"))
	case "^=":
		return want != "" && strings.HasPrefix(v, want)
	case "$=":
		return want != "" && strings.HasSuffix(v, want)
	}
	return want != "" && strings.Contains(v, want)
}

func (h holding) is(p *pseudo, n *node) bool {
	switch p.name {
	case "root":
		return n.parent == nil
	case "empty":
		return len(n.kids) == 0 && trim(n.text) == ""
	case "link":
		return n.name == "a" && n.attr("href") != ""
	case "lang":
		return p.speaks(n)
	case "only-child":
		return n.prev == nil && n.next == nil
	case "only-of-type":
		return h.place(n, true, false) == 1 && h.place(n, true, true) == 1
	case "not", "is", "where", "matches":
		for _, parts := range p.any {
			if h.fits(parts, n) {
				return p.name != "not"
			}
		}
		return p.name == "not"
	}
	i := h.place(n, strings.HasSuffix(p.name, "type"), strings.Contains(p.name, "last")) - p.b
	if p.a == 0 {
		return i == 0
	}
	return i%p.a == 0 && i/p.a >= 0
}

// speaks reports whether an element is in one of the languages: by its own word or that of the
// nearest one around it.
func (p *pseudo) speaks(n *node) bool {
	for ; n != nil; n = n.parent {
		have, ok := n.attrs["lang"]
		if !ok {
			continue
		}
		have = strings.ToLower(have)
		for _, l := range p.langs {
			if have == l || strings.HasPrefix(have, l+"-") {
				return true
			}
		}
		return false
	}
	return false
}

// place returns the number of an element among its siblings, or among those of its type, from
// 1, from the front or the end.
func (h holding) place(n *node, ofType, fromEnd bool) int {
	if !ofType && !fromEnd {
		return n.order
	}
	i := 1
	for m := n.beyond(fromEnd); m != nil; m = m.beyond(fromEnd) {
		h.b.Spend(budget.Steps, 1)
		if !ofType || m.name == n.name {
			i++
		}
	}
	return i
}

func (n *node) beyond(forward bool) *node {
	if forward {
		return n.next
	}
	return n.prev
}
