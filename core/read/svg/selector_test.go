package svg

import (
	"strconv"
	"strings"
	"testing"

	"bildhauer/core/read/budget"
)

// family is a small document: ids tell which elements a selector finds.
const family = `<svg xmlns="http://www.w3.org/2000/svg" id="root">
	<g id="hull" class="boat wide" data-row="12" lang="de-AT">
		<rect id="a"/><circle id="b" class="lamp"/><rect id="c" fill="red"/><path id="d"/>
	</g>
	<g id="mast"><text id="t">word<tspan id="u"/></text></g>
	<rect id="e" class="lamp Lamp"/>
</svg>`

// TestSelectors holds each form of selector against the document: which elements it finds, and
// its weight.
func TestSelectors(t *testing.T) {
	root, err := parseDocument([]byte(family), budget.New(t.Context()))
	if err != nil {
		t.Fatal(err)
	}
	for selector, want := range map[string]string{
		"rect":                             "a c e 1",
		"*":                                "root hull a b c d mast t u e 0",
		"g rect":                           "a c 2",
		"svg > rect":                       "e 2",
		"svg>g>rect":                       "a c 3",
		"#hull .lamp":                      "b 10100",
		".boat.wide circle":                "b 201",
		"rect + circle":                    "b 2",
		"circle ~ *":                       "c d 1",
		"rect~path":                        "d 2",
		"[fill]":                           "c 100",
		"[class~=lamp]":                    "b e 100",
		"[class='boat wide']":              "hull 100",
		"[class^=\"bo\"]":                  "hull 100",
		"[class$=Lamp]":                    "e 100",
		"[class*='at wi']":                 "hull 100",
		"[id=A i]":                         "a 100",
		"[lang|=de]":                       "hull 100",
		":lang(de)":                        "hull a b c d 100",
		"circle:lang(fr, de-AT)":           "b 101",
		"[data-row=\"12\"] > :first-child": "a 200",
		"rect:first-child":                 "a 101",
		"g :last-child":                    "d t u 101",
		"tspan:only-child":                 "u 101",
		":root":                            "root 100",
		"g:nth-child(2)":                   "mast 101",
		"#hull > :nth-child(odd)":          "a c 10100",
		"#hull > :nth-child(2n)":           "b d 10100",
		"#hull > :nth-child(-n+2)":         "a b 10100",
		"#hull > :nth-last-child(1)":       "d 10100",
		"rect:nth-of-type(2)":              "c 101",
		"g rect:last-of-type":              "c 102",
		"circle:only-of-type":              "b 101",
		"rect:not(.lamp)":                  "a c 101",
		"rect:not([fill], .lamp)":          "a 101",
		":is(circle, path):not(#d)":        "b 10001",
		":where(#hull) circle":             "b 1",
		"path:empty":                       "d 101",
		"rect:hover":                       " 101",
		"rect::before":                     " 101",
		"svg|rect":                         "a c e 1",
		"rect:":                            "? ",
		"rect[":                            "? ",
		"> rect":                           "? ",
		"rect >":                           "? ",
		"rect:nth-child(x)":                "? ",
		"rect:has(a)":                      "? ",
		"rect %":                           "? ",
	} {
		list := selectors(selector, 0)
		if len(list) != 1 || list[0] == nil {
			if want != "? " && want != `? ` {
				t.Errorf("%s is not understood", selector)
			}
			continue
		}
		var found []string
		var walk func(n *node)
		walk = func(n *node) {
			if n.name != "#text" && (holding{budget.New(t.Context())}).fits(list[0].parts, n) {
				found = append(found, n.attr("id"))
			}
			for _, k := range n.kids {
				walk(k)
			}
		}
		walk(root)
		names, weight, _ := strings.Cut(want, " ")
		if i := strings.LastIndexByte(want, ' '); i >= 0 {
			names, weight = want[:i], want[i+1:]
		}
		if got := strings.Join(found, " "); got != names || weight != strconv.Itoa(list[0].weight) {
			t.Errorf("%s finds %q of weight %d, want %q", selector, got, list[0].weight, want)
		}
	}
	if list := selectors("rect, g:not(a, b) > path , [x=','] ,%", 0); len(list) != 4 || list[0] == nil || list[1] == nil || list[2] == nil || list[3] != nil {
		t.Errorf("a list is %v", list)
	}
}
