package svg

import (
	"testing"

	"bildhauer/internal/likeness"
)

// TestFiltersThatAreGeometry moves, recolours, frames and repeats shapes by filters, leaves out
// what is blurred, and says what it can't.
func TestFiltersThatAreGeometry(t *testing.T) {
	const block = `<rect x="20" y="20" width="20" height="10" fill="red" filter="url(#f)"/>`
	const plain, left = "fill #ff0000 20,20 40,30", "fill #ff0000 20,20 40,30; changed: filter effect left out (<rect>)"
	const wide = `x="-2" y="-2" width="5" height="5" `
	filter := func(attrs, steps string) string { return `<filter id="f" ` + attrs + `>` + steps + `</filter>` + block }
	for name, c := range map[string]struct{ body, want string }{
		"moved":                           {filter(wide, `<feOffset dx="5" dy="3"/>`), "fill #ff0000 25,23 45,33"},
		"moved by its size":               {filter(wide+`primitiveUnits="objectBoundingBox"`, `<feOffset dx="0.5" dy="1"/>`), "fill #ff0000 30,30 50,40"},
		"moved out of its region in part": {filter("", `<feOffset dx="5" dy="3"/>`), "fill #ff0000 25,23 42,31"},
		"moved out of it":                 {filter("", `<feOffset dx="100"/>`) + `<rect width="2" height="2"/>`, "fill #000000 0,0 2,2"},
		"cut by its region":               {filter(`x="0" y="0" width="0.5" height="1"`, `<feOffset/>`), "fill #ff0000 20,20 30,30"},
		"twice":                           {filter(wide, `<feOffset dx="5"/><feOffset dx="5"/>`), "fill #ff0000 30,20 50,30"},
		"a flood":                         {filter("", `<feFlood flood-color="#0000ff"/>`), "fill #0000ff 18,19 42,31"},
		"a flood of a size": {filter(`filterUnits="userSpaceOnUse" x="0" y="0" width="50" height="50"`, `<feFlood flood-color="lime" x="10" width="5"/>`),
			"fill #00ff00 10,0 15,50"},
		"dyed": {filter("", `<feFlood flood-color="blue"/><feComposite operator="in" in2="SourceGraphic"/>`), "fill #0000ff 20,20 40,30"},
		"cut":  {filter("", `<feFlood x="30" result="r"/><feComposite in="SourceGraphic" operator="in" in2="r"/>`), "fill #ff0000 30,20 40,30"},
		"under itself": {filter(wide, `<feOffset dx="4" result="o"/><feMerge><feMergeNode in="o"/><feMergeNode in="SourceGraphic"/></feMerge>`),
			"fill #ff0000 24,20 44,30; fill #ff0000 20,20 40,30"},
		"over a flood": {filter("", `<feFlood flood-color="#00f" result="r"/><feComposite in="SourceGraphic" in2="r"/>`),
			"fill #0000ff 18,19 42,31; fill #ff0000 20,20 40,30"},
		"blended plainly": {filter("", `<feFlood flood-color="#00f" result="r"/><feBlend in="SourceGraphic" in2="r"/>`),
			"fill #0000ff 18,19 42,31; fill #ff0000 20,20 40,30"},
		"a hard shadow": {filter(wide, `<feDropShadow dx="3" dy="3" stdDeviation="0" flood-color="#333"/>`),
			"fill #333333 23,23 43,33; fill #ff0000 20,20 40,30"},
		"a soft shadow": {filter("", `<feDropShadow dx="3" dy="3" stdDeviation="2"/>`), left},
		"one by hand": {filter("", `<feGaussianBlur stdDeviation="2"/><feOffset dx="3" result="o"/>`+
			`<feMerge><feMergeNode in="o"/><feMergeNode in="SourceGraphic"/></feMerge>`), left},
		"all blurred":                   {filter("", `<feGaussianBlur stdDeviation="2"/>`), left},
		"blurred by naught":             {filter("", `<feGaussianBlur stdDeviation="0"/>`), plain},
		"turbulence":                    {filter("", `<feTurbulence/>`), left},
		"the last one can't be":         {filter("", `<feOffset dx="3"/><feConvolveMatrix/>`), left},
		"of a result that is not there": {filter("", `<feOffset in="x" dx="3"/>`), left},
		"one that is missing":           {`<rect x="20" y="20" width="20" height="10" fill="red" filter="url(#none)"/>`, left},
		"grown":                         {filter(wide, `<feMorphology operator="dilate" radius="2 1"/>`), "fill #ff0000 18,19 42,31"},
		"grown as its outline": {filter(wide, `<feMorphology in="SourceAlpha" operator="dilate" radius="2" result="o"/>`+
			`<feFlood flood-color="lime"/><feComposite operator="in" in2="o"/><feMerge><feMergeNode/><feMergeNode in="SourceGraphic"/></feMerge>`),
			"fill #00ff00 18,18 42,32; fill #ff0000 20,20 40,30"},
		"thinned by naught":      {filter(wide, `<feMorphology radius="0"/>`), plain},
		"thinned by less":        {filter(wide, `<feMorphology radius="-1"/>`), left},
		"greyed":                 {filter("", `<feColorMatrix type="saturate" values="0" color-interpolation-filters="sRGB"/>`), "fill #363636 20,20 40,30"},
		"greyed in linear light": {filter("", `<feColorMatrix type="saturate" values="0"/>`), "fill #7f7f7f 20,20 40,30"},
		"turned in hue": {filter("", `<feColorMatrix type="hueRotate" values="120" color-interpolation-filters="sRGB"/>`),
			"fill #007100 20,20 40,30"},
		"by a matrix": {filter("", `<feColorMatrix color-interpolation-filters="sRGB" values="0 0 0 0 0  1 0 0 0 0  0 0 0 0 1  0 0 0 0.5 0"/>`),
			"fill #00ffff at 0.5 20,20 40,30"},
		"light as cover":           {filter("", `<feColorMatrix type="luminanceToAlpha" color-interpolation-filters="sRGB"/>`), "fill #000000 at 0.2125 20,20 40,30"},
		"a matrix that paints all": {filter("", `<feColorMatrix values="0 0 0 0 0  0 0 0 0 0  0 0 0 0 0  0 0 0 0 1"/>`), left},
		"by curves": {filter("", `<feComponentTransfer color-interpolation-filters="sRGB"><feFuncR type="table" tableValues="0 0.2"/>`+
			`<feFuncG type="linear" intercept="0.4"/><feFuncB type="discrete" tableValues="0.6 1"/></feComponentTransfer>`), "fill #336699 20,20 40,30"},
		"cut out of a flood": {filter("", `<feFlood flood-color="#0000ff"/><feComposite operator="out" in2="SourceGraphic"/>`), "fill #0000ff 18,19 42,31"},
		"atop": {filter(wide, `<feFlood flood-color="#0000ff" result="r"/><feComposite operator="atop" in="r" in2="SourceGraphic"/>`),
			"fill #ff0000 20,20 40,30; fill #0000ff 20,20 40,30"},
		"another element": {`<g id="e"><rect width="3" height="3" fill="#00ff00"/></g>` + filter(`x="-1" y="-2" width="5" height="5" `, `<feImage href="#e"/>`),
			"fill #00ff00 0,0 3,3 in e; fill #00ff00 0,0 3,3 in e"},
		"an element with itself":     {filter("", `<feImage href="#f"/>`), left},
		"a part of a box with units": {filter(`x="1em"`, `<feFlood/>`), left},
		"in a turned space": {`<filter id="f" ` + wide + `><feOffset dx="5"/></filter><g transform="matrix(0 1 -1 0 0 0)">` +
			`<rect x="20" y="-30" width="10" height="10" fill="red" filter="url(#f)"/></g>`, "fill #ff0000 20,25 30,35"},
		"of a group": {`<filter id="f" ` + wide + `><feOffset dx="5"/></filter>` +
			`<g filter="url(#f)"><rect width="2" height="2"/><circle r="1" cx="9" cy="9"/></g>`,
			"fill #000000 5,0 7,2; fill #000000 13,8 15,10"},
	} {
		t.Run(name, func(t *testing.T) {
			s, err := read(c.body)
			if err != nil {
				t.Fatal(err)
			}
			if got := likeness.Words(s, 1); got != c.want {
				t.Errorf("got  %s\nwant %s", got, c.want)
			}
		})
	}
}
