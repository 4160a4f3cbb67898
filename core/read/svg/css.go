package svg

import (
	"sort"
	"strings"

	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"

	"bildhauer/core/read/budget"
)

func trim(s string) string { return strings.TrimSpace(s) }

// rule is one selector of a style sheet with its declarations.
type rule struct {
	parts  []compound // from the outermost to the element itself
	weight int        // specificity, then order
	decls  []decl
}

type decl struct {
	name, value string
	important   bool
}

// styleSheet reads the rules of style elements, see selector.go. It counts what it skips.
// Rules inside @media for screens or everything count, those for print not;
// the fonts of @font-face are returned.
func styleSheet(text string) (rules []rule, fonts []fontFace, skipped int) {
	rules, fonts, skipped = sheetWithin(text, 0)
	for i := range rules {
		rules[i].weight = rules[i].weight*100_000 + i
	}
	return rules, fonts, skipped
}

// sheetWithin reads a style sheet and those that it imports as data.
func sheetWithin(text string, depth int) (rules []rule, fonts []fontFace, skipped int) {
	p := css.NewParser(parse.NewInputString(text), false)
	var open []rule
	var face *fontFace
	nested := 0      // inside rules that do not count
	var within []int // what each open at-rule added to it
	for {
		gt, _, data := p.Next()
		switch gt {
		case css.ErrorGrammar:
			if p.HasParseError() {
				continue
			}
			return rules, fonts, skipped
		case css.AtRuleGrammar:
			name, values := strings.ToLower(string(data)), tokens(p.Values())
			if name == "@charset" || name == "@namespace" || nested > 0 {
				continue
			}
			inner, ok := dataOf(values)
			if name != "@import" || !ok || depth > 2 {
				skipped++
				continue
			}
			more, faces, bad := sheetWithin(string(inner), depth+1)
			rules, fonts, skipped = append(rules, more...), append(fonts, faces...), skipped+bad
		case css.BeginAtRuleGrammar:
			add := 1
			switch name, query := strings.ToLower(string(data)), strings.ToLower(tokens(p.Values())); {
			case name == "@font-face":
				face = &fontFace{}
			case name == "@media" && !strings.Contains(query, "print") && !strings.Contains(query, "dark") && !strings.Contains(query, "not "):
				add = 0
			case name == "@media", name == "@page", strings.HasSuffix(name, "keyframes"):
			default:
				skipped++
			}
			nested += add
			within = append(within, add)
		case css.EndAtRuleGrammar:
			if face != nil {
				fonts = append(fonts, *face)
				face = nil
			}
			if n := len(within); n > 0 {
				nested -= within[n-1]
				within = within[:n-1]
			}
		case css.QualifiedRuleGrammar, css.BeginRulesetGrammar:
			for _, r := range selectors(tokens(p.Values()), 0) {
				if r != nil && nested == 0 {
					open = append(open, *r)
				} else if nested == 0 {
					skipped++
				}
			}
		case css.DeclarationGrammar:
			v := trim(tokens(p.Values()))
			d := decl{name: strings.ToLower(string(data)), value: v}
			if i := strings.LastIndexByte(v, '!'); i >= 0 && strings.EqualFold(trim(v[i+1:]), "important") {
				d.value, d.important = trim(v[:i]), true
			}
			if face != nil {
				face.set(d)
			}
			for i := range open {
				open[i].decls = append(open[i].decls, d)
			}
		case css.EndRulesetGrammar:
			rules = append(rules, open...)
			open = nil
		}
	}
}

func tokens(ts []css.Token) string {
	var b strings.Builder
	for _, t := range ts {
		b.Write(t.Data)
	}
	return b.String()
}

// cascade returns the declarations that hold for an element: presentation
// attributes, then rules by weight, then the style attribute, then what is
// marked important.
func (r *reader) cascade(n *node) map[string]string {
	if r.styled != n { // the same element is asked for several times in turn
		r.styled, r.style = n, r.cascaded(n)
	}
	return r.style
}

func (r *reader) cascaded(n *node) map[string]string {
	rules := r.rules
	r.budget.Spend(budget.Steps, 10+len(rules)) // each rule is held against the element
	out := map[string]string{}
	for _, name := range presentation {
		if v, ok := n.attrs[name]; ok {
			out[name] = trim(v)
		}
	}
	var match []rule
	h := holding{r.budget}
	for _, r := range rules {
		if h.fits(r.parts, n) {
			match = append(match, r)
		}
	}
	sort.SliceStable(match, func(i, j int) bool { return match[i].weight < match[j].weight })
	inline := inlineStyle(n.attr("style"))
	match = append(match, rule{decls: inline})
	for _, r2 := range match {
		r.budget.Spend(budget.Steps, len(r2.decls)/2)
	}
	for _, important := range []bool{false, true} {
		for _, r := range match {
			for _, d := range r.decls {
				if d.important == important {
					out[d.name] = d.value
				}
			}
		}
	}
	return out
}

func inlineStyle(s string) []decl {
	var out []decl
	for _, part := range strings.Split(s, ";") {
		name, value, ok := strings.Cut(part, ":")
		if !ok {
			continue
		}
		d := decl{name: strings.ToLower(trim(name)), value: trim(value)}
		if v, ok := strings.CutSuffix(d.value, "!important"); ok {
			d.value, d.important = trim(v), true
		}
		out = append(out, d)
	}
	return out
}

// presentation lists the attributes that count as style.
var presentation = []string{
	"fill",
	"fill-rule",
	"fill-opacity",
	"stroke",
	"stroke-width",
	"stroke-linecap",
	"stroke-linejoin",
	"stroke-miterlimit",
	"stroke-dasharray",
	"stroke-dashoffset",
	"stroke-opacity",
	"opacity",
	"color",
	"display",
	"visibility",
	"paint-order",
	"clip-path",
	"clip-rule",
	"mask",
	"filter",
	"mask-type",
	"color-interpolation",
	"color-interpolation-filters",
	"writing-mode",
	"glyph-orientation-vertical",
	"text-orientation",
	"direction",
	"unicode-bidi",
	"overflow",
	"stop-color",
	"stop-opacity",
	"flood-color",
	"flood-opacity",
	"font-size",
	"vector-effect",
	"marker-start",
	"marker-mid",
	"marker-end",
	"font-family",
	"font-weight",
	"font-style",
	"font-variant",
	"text-anchor",
	"letter-spacing",
	"word-spacing",
	"text-decoration",
	"baseline-shift",
	"dominant-baseline",
	"alignment-baseline",
}
