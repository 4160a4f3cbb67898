package svg

import (
	"context"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/trace"
	"bildhauer/internal/likeness"
)

// read reads a drawing of 100 by 100 px.
func read(body string) (*artwork.Sheet, error) {
	const head = `<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100" viewBox="0 0 100 100">`
	return readWhole(head + body + "</svg>")
}

// readWhole reads a document.
func readWhole(doc string) (*artwork.Sheet, error) {
	return budget.Within(context.Background(), func(b *budget.Budget) (*artwork.Sheet, error) {
		s, err := Read("drawing.svg", []byte(doc), nil, trace.Settings{}, b)
		if err == nil {
			s.Finish()
		}
		return s, err
	})
}

// TestAttributes reads one drawing for each attribute, property or element and
// compares what is seen with SVG 2 (or, for a file that breaks the rules, with
// what the report should say).
func TestAttributes(t *testing.T) {
	for _, c := range []struct{ name, body, want string }{
		// Shapes.
		{
			"x, y, width and height of a rect",
			`<rect x="10" y="20" width="30" height="40"/>`,
			"fill #000000 10,20 40,60",
		},
		{
			"rx alone rounds both ways",
			`<rect width="30" height="40" rx="4"/>`,
			"fill #000000 0,0 30,40",
		},
		{
			"rx beyond half the width is cut",
			`<rect width="10" height="40" rx="99" ry="5"/>`,
			"fill #000000 0,0 10,40",
		},
		{
			"a rect without height",
			`<rect id="flat" width="10"/>`,
			"refused: the file holds nothing that could become a solid (object without extent). Convert it to " +
				"paths and save again",
		},
		{
			"a rect with a negative width",
			`<rect id="less" width="-10" height="5"/>`,
			"refused: the file holds nothing that could become a solid (object without extent). Convert it to " +
				"paths and save again",
		},
		{
			"cx, cy and r of a circle",
			`<circle cx="10" cy="20" r="5"/>`,
			"fill #000000 5,15 15,25",
		},
		{
			"a circle's r in percent of the diagonal",
			`<circle cx="50" cy="50" r="10%"/>`,
			"fill #000000 40,40 60,60",
		},
		{
			"ellipse with rx auto",
			`<ellipse cx="10" cy="20" rx="auto" ry="5"/>`,
			"fill #000000 5,15 15,25",
		},
		{
			"ellipse with both",
			`<ellipse cx="30" cy="20" rx="20" ry="5"/>`,
			"fill #000000 10,15 50,25",
		},
		{
			"x1 to y2 of a line, which has no fill",
			`<line x1="10" y1="20" x2="30" y2="20" stroke="red" fill="blue"/>`,
			"stroke #ff0000 10,19.5 30,20.5",
		},
		{
			"points of a polyline, with a stroke that stays open",
			`<polyline points="0,0 10,0 10,10" stroke="#00f" fill="none"/>`,
			"stroke #0000ff 0,-0.5 10.5,10",
		},
		{
			"points of a polygon, with an odd number at the end",
			`<polygon points="0,0 10,0 10,10 7"/>`,
			"fill #000000 0,0 10,10",
		},
		{
			"points of which there is one",
			`<polygon id="one" points="5 5"/>`,
			"refused: the file holds nothing that could become a solid (object without extent). Convert it to " +
				"paths and save again",
		},
		{
			"d of a path",
			`<path d="M10 10h20v20z"/>`,
			"fill #000000 10,10 30,30",
		},
		{
			"d with an error behind two lines",
			`<path id="p" d="M10 10h20v20 q oops"/>`,
			"fill #000000 10,10 30,30; changed: path with an error in its data, read up to there (p)",
		},
		{
			"d that does not begin with a move",
			`<path id="p" d="L10 10 20 20"/>`,
			"refused: the file holds nothing that could become a solid (object without extent). Convert it to " +
				"paths and save again",
		},
		{
			"d that is empty",
			`<path id="p" d=""/>`,
			"refused: the file holds nothing that could become a solid (object without extent). Convert it to " +
				"paths and save again",
		},
		{
			"d with an exponent and a leading sign",
			`<path d="M+1e1-.5e1L2E1.5-5 5z"/>`,
			"fill #000000 -5,-5 20,5",
		},
		{
			"pathLength does not matter without dashes",
			`<path pathLength="7" d="M0 0h10v10z"/>`,
			"fill #000000 0,0 10,10",
		},
		// Paint.
		{
			"fill by name",
			`<rect width="1" height="1" fill="tomato"/>`,
			"fill #ff6347 0,0 1,1",
		},
		{
			"fill by three digits",
			`<rect width="1" height="1" fill="#8cf"/>`,
			"fill #88ccff 0,0 1,1",
		},
		{
			"fill by four digits with alpha",
			`<rect width="1" height="1" fill="#8cf8"/>`,
			"fill #88ccff at 0.5333 0,0 1,1",
		},
		{
			"fill by eight digits",
			`<rect width="1" height="1" fill="#11223380"/>`,
			"fill #112233 at 0.502 0,0 1,1",
		},
		{
			"fill by rgb()",
			`<rect width="1" height="1" fill="rgb(10, 20, 30)"/>`,
			"fill #0a141e 0,0 1,1",
		},
		{
			"fill by rgb() in percent",
			`<rect width="1" height="1" fill="rgb(100%, 50%, 0%)"/>`,
			"fill #ff8000 0,0 1,1",
		},
		{
			"fill by rgba()",
			`<rect width="1" height="1" fill="rgba(10,20,30,.5)"/>`,
			"fill #0a141e at 0.5 0,0 1,1",
		},
		{
			"fill by rgb() without commas",
			`<rect width="1" height="1" fill="rgb(10 20 30 / 25%)"/>`,
			"fill #0a141e at 0.25 0,0 1,1",
		},
		{
			"fill by hsl()",
			`<rect width="1" height="1" fill="hsl(120, 100%, 25%)"/>`,
			"fill #008000 0,0 1,1",
		},
		{
			"fill that is not a colour",
			`<rect id="odd" width="1" height="1" fill="wobbly"/>`,
			`fill #000000 0,0 1,1; changed: unknown colour "wobbly" became black (odd)`,
		},
		{
			"fill by currentColor",
			`<g color="#123456"><rect width="1" height="1" fill="currentColor"/></g>`,
			"fill #123456 0,0 1,1",
		},
		{
			"fill none and no stroke",
			`<rect id="no" width="1" height="1" fill="none"/>`,
			"refused: the file holds nothing that could become a solid (object without fill and stroke). Convert " +
				"it to paths and save again",
		},
		{
			"fill transparent",
			`<rect id="no" width="1" height="1" fill="transparent"/>`,
			"refused: the file holds nothing that could become a solid (object without fill and stroke). Convert " +
				"it to paths and save again",
		},
		{
			"fill of a paint that is missing",
			`<rect id="no" width="1" height="1" fill="url(#nowhere)"/>`,
			"refused: the file holds nothing that could become a solid (paint that refers to nothing). Convert " +
				"it to paths and save again",
		},
		{
			"fill of a paint that is missing, with another behind",
			`<rect width="1" height="1" fill="url(#nowhere) lime"/>`,
			"fill #00ff00 0,0 1,1",
		},
		{
			"fill inherited over three groups",
			`<g fill="red"><g><g fill="inherit"><rect width="1" height="1"/></g></g></g>`,
			"fill #ff0000 0,0 1,1",
		},
		{
			"fill-opacity",
			`<rect width="1" height="1" fill-opacity=".4"/>`,
			"fill #000000 at 0.4 0,0 1,1",
		},
		{
			"fill-opacity in percent",
			`<rect width="1" height="1" fill-opacity="40%"/>`,
			"fill #000000 at 0.4 0,0 1,1",
		},
		{
			"opacity of groups multiplies",
			`<g opacity=".5"><g opacity=".5"><rect width="1" height="1" fill-opacity=".5"/></g></g>`,
			"fill #000000 at 0.125 0,0 1,1",
		},
		{
			"opacity of zero",
			`<rect id="gone" width="1" height="1" opacity="0"/>`,
			"refused: the file holds nothing that could become a solid (object without fill and stroke). Convert " +
				"it to paths and save again",
		},
		{
			"opacity beyond one",
			`<rect width="1" height="1" opacity="7"/>`,
			"fill #000000 0,0 1,1",
		},
		// Strokes.
		{
			"stroke with the width of 1 that nothing says",
			`<path d="M10 10h20" stroke="red"/>`,
			"stroke #ff0000 10,9.5 30,10.5",
		},
		{
			"stroke-width",
			`<path d="M10 10h20" stroke="red" stroke-width="6"/>`,
			"stroke #ff0000 10,7 30,13",
		},
		{
			"stroke-width in mm",
			`<path d="M10 10h20" stroke="red" stroke-width="1mm"/>`,
			"stroke #ff0000 10,8.11 30,11.89",
		},
		{
			"stroke-width of zero",
			`<path id="z" d="M10 10h20" stroke="red" stroke-width="0"/>`,
			"refused: the file holds nothing that could become a solid (object without fill and stroke). Convert " +
				"it to paths and save again",
		},
		{
			"stroke-opacity",
			`<path d="M10 10h20" stroke="red" stroke-opacity=".3"/>`,
			"stroke #ff0000 at 0.3 10,9.5 30,10.5",
		},
		{
			"stroke-linecap square",
			`<path d="M10 10h20" stroke="red" stroke-width="4" stroke-linecap="square"/>`,
			"stroke #ff0000 8,8 32,12",
		},
		{
			"stroke-linecap round",
			`<path d="M10 10h20" stroke="red" stroke-width="4" stroke-linecap="round"/>`,
			"stroke #ff0000 8,8 32,12",
		},
		{
			"stroke-linejoin miter",
			`<path d="M10 30l10-20 10 20" fill="none" stroke="red" stroke-width="4"/>`,
			"stroke #ff0000 8.21,5.53 31.79,30.89",
		},
		{
			"stroke-linejoin round",
			`<path d="M10 30l10-20 10 20" fill="none" stroke="red" stroke-width="4" stroke-linejoin="round"/>`,
			"stroke #ff0000 8.21,8 31.79,30.89",
		},
		{
			"stroke-linejoin bevel",
			`<path d="M10 30l10-20 10 20" fill="none" stroke="red" stroke-width="4" stroke-linejoin="bevel"/>`,
			"stroke #ff0000 8.21,9.11 31.79,30.89",
		},
		{
			"stroke-miterlimit",
			`<path d="M10 30l10-20 10 20" fill="none" stroke="red" stroke-width="4" stroke-miterlimit="2"/>`,
			"stroke #ff0000 8.21,9.11 31.79,30.89",
		},
		{
			"stroke-dasharray",
			`<path d="M10 10h40" stroke="red" stroke-width="4" stroke-dasharray="10,90"/>`,
			"stroke #ff0000 10,8 20,12",
		},
		{
			"stroke-dasharray none",
			`<path d="M10 10h40" stroke="red" stroke-width="4" stroke-dasharray="none"/>`,
			"stroke #ff0000 10,8 50,12",
		},
		{
			"stroke-dashoffset",
			`<path d="M10 10h40" stroke="red" stroke-width="4" stroke-dasharray="10 90" stroke-dashoffset="-20"/>`,
			"stroke #ff0000 30,8 40,12",
		},
		{
			"vector-effect keeps the width",
			`<path transform="scale(3)" d="M10 10h10" stroke="red" stroke-width="4" ` +
				`vector-effect="non-scaling-stroke"/>`,
			"stroke #ff0000 30,28 60,32",
		},
		{
			"a stroke's width grows with the transform",
			`<path transform="scale(3)" d="M10 10h10" stroke="red" stroke-width="4"/>`,
			"stroke #ff0000 30,24 60,36",
		},
		{
			"paint-order stroke",
			`<rect width="9" height="9" fill="lime" stroke="red" paint-order="stroke"/>`,
			"stroke #ff0000 -0.5,-0.5 9.5,9.5; fill #00ff00 0,0 9,9",
		},
		{
			"fill, then stroke",
			`<rect width="9" height="9" fill="lime" stroke="red"/>`,
			"fill #00ff00 0,0 9,9; stroke #ff0000 -0.5,-0.5 9.5,9.5",
		},
		// What is shown.
		{
			"display none",
			`<rect width="1" height="1" display="none"/><rect width="2" height="2"/>`,
			"hidden fill #000000 0,0 1,1; fill #000000 0,0 2,2",
		},
		{
			"display none on a group",
			`<g style="display:none"><rect width="1" height="1"/></g><rect width="2" height="2"/>`,
			"hidden fill #000000 0,0 1,1; fill #000000 0,0 2,2",
		},
		{
			"visibility hidden, and visible again inside",
			`<g visibility="hidden"><rect width="1" height="1"/>` +
				`<rect visibility="visible" width="2" height="2"/></g>`,
			"hidden fill #000000 0,0 1,1; fill #000000 0,0 2,2",
		},
		{
			"visibility collapse",
			`<rect visibility="collapse" width="1" height="1"/><rect width="2" height="2"/>`,
			"hidden fill #000000 0,0 1,1; fill #000000 0,0 2,2",
		},
		{
			"defs are not drawn",
			`<defs><rect width="1" height="1"/></defs><rect width="2" height="2"/>`,
			"fill #000000 0,0 2,2",
		},
		{
			"a symbol is not drawn",
			`<symbol><rect width="1" height="1"/></symbol><rect width="2" height="2"/>`,
			"fill #000000 0,0 2,2",
		},
		{
			"title and desc are not drawn",
			`<rect width="2" height="2"><title>Lid</title><desc>of the box</desc></rect>`,
			"fill #000000 0,0 2,2",
		},
		{
			"an editor's own elements",
			`<x:thing xmlns:x="urn:x"><rect width="1" height="1"/></x:thing><rect width="2" height="2"/>`,
			"fill #000000 0,0 2,2",
		},
		{
			"an element nobody knows",
			`<blob id="b"/><rect width="2" height="2"/>`,
			"fill #000000 0,0 2,2; left out: unknown element <blob> (b)",
		},
		{
			"a bitmap",
			`<image id="photo" x="5" y="6" width="20" height="10" href="a.png"/><rect width="2" height="2"/>`,
			"fill #9a9a9a 5,6 25,16; fill #000000 0,0 2,2; left out: picture in another file (a.png) (photo)",
		},
		{
			"an include",
			`<xi:include xmlns:xi="http://www.w3.org/2001/XInclude" href="parts/anchor.svg"/><rect width="2" height="2"/>`,
			"fill #000000 0,0 2,2; left out: copy of something in another file (anchor.svg) (<xi:include>)",
		},
		{
			"a script",
			`<script>alert(1)</script><rect width="2" height="2"/>`,
			"fill #000000 0,0 2,2; left out: script (never run) (<script>)",
		},
		{
			"a filter",
			`<filter id="f"/><rect id="soft" filter="url(#f)" width="2" height="2"/>`,
			"fill #000000 0,0 2,2; changed: filter effect left out (soft)",
		},
		{
			"a blend mode of CSS",
			`<rect id="mix" style="mix-blend-mode:multiply" width="2" height="2"/>`,
			"fill #000000 0,0 2,2; changed: blend mode multiply shown as normal (mix)",
		},
		// Transforms.
		{
			"translate by one number",
			`<rect transform="translate(5)" width="2" height="2"/>`,
			"fill #000000 5,0 7,2",
		},
		{
			"translate by two",
			`<rect transform="translate(5 6)" width="2" height="2"/>`,
			"fill #000000 5,6 7,8",
		},
		{
			"scale by one number",
			`<rect transform="scale(3)" x="1" width="2" height="2"/>`,
			"fill #000000 3,0 9,6",
		},
		{
			"scale by two, one negative",
			`<rect transform="scale(-1,2)" x="1" width="2" height="2"/>`,
			"fill #000000 -3,0 -1,4",
		},
		{
			"rotate",
			`<rect transform="rotate(90)" x="1" width="2" height="4"/>`,
			"fill #000000 -4,1 0,3",
		},
		{
			"rotate about a point",
			`<rect transform="rotate(90 10 10)" x="1" width="2" height="4"/>`,
			"fill #000000 16,1 20,3",
		},
		{
			"skewX",
			`<rect transform="skewX(45)" width="2" height="4"/>`,
			"fill #000000 0,0 6,4",
		},
		{
			"skewY",
			`<rect transform="skewY(45)" width="2" height="4"/>`,
			"fill #000000 0,0 2,6",
		},
		{
			"matrix",
			`<rect transform="matrix(1 0 0 1 7 8)" width="2" height="4"/>`,
			"fill #000000 7,8 9,12",
		},
		{
			"a list with commas",
			`<rect transform="translate(1,1),scale(2)" width="2" height="4"/>`,
			"fill #000000 1,1 5,9",
		},
		{
			"a transform of which a part is not understood",
			`<rect id="t" transform="translate(5) wiggle(3)" width="2" height="2"/>`,
			"fill #000000 5,0 7,2; changed: transform understood only in part (t)",
		},
		{
			"a transform that flattens",
			`<rect id="t" transform="scale(0 1)" width="2" height="2"/>`,
			"refused: the file holds nothing that could become a solid (object squeezed to nothing by its " +
				"transform). Convert it to paths and save again",
		},
		{
			"a transform that is no number",
			`<rect id="t" transform="scale(1e300) scale(1e300)" width="2" height="2"/>`,
			"refused: the file holds nothing that could become a solid (object with a transform that is not a " +
				"number). Convert it to paths and save again",
		},
		{
			"the transform of a clip path",
			`<clipPath id="c" transform="translate(4)"><rect width="3" height="9"/></clipPath>` +
				`<rect clip-path="url(#c)" width="9" height="9"/>`,
			"fill #000000 4,0 7,9",
		},
		// Units.
		{
			"pt",
			`<rect width="72pt" height="9"/>`,
			"fill #000000 0,0 96,9",
		},
		{
			"pc",
			`<rect width="6pc" height="9"/>`,
			"fill #000000 0,0 96,9",
		},
		{
			"cm",
			`<rect width="2.54cm" height="9"/>`,
			"fill #000000 0,0 96,9",
		},
		{
			"q",
			`<rect width="101.6q" height="9"/>`,
			"fill #000000 0,0 96,9",
		},
		{
			"em of the font size",
			`<rect font-size="20" width="2em" height="9"/>`,
			"fill #000000 0,0 40,9",
		},
		{
			"ex",
			`<rect font-size="20" width="2ex" height="9"/>`,
			"fill #000000 0,0 20,9",
		},
		{
			"percent of the view",
			`<rect x="10%" y="20%" width="50%" height="5%"/>`,
			"fill #000000 10,20 60,25",
		},
		{
			"a unit nobody knows counts as px",
			`<rect width="7furlong" height="9"/>`,
			"fill #000000 0,0 7,9",
		},
		// Copies and viewports.
		{
			"use moves by x and y",
			`<defs><rect id="r" width="2" height="2"/></defs><use href="#r" x="5" y="6"/>`,
			"fill #000000 5,6 7,8",
		},
		{
			"use by xlink:href",
			`<defs><rect id="r" width="2" height="2"/></defs>` +
				`<use xlink:href="#r" xmlns:xlink="http://www.w3.org/1999/xlink" x="5"/>`,
			"fill #000000 5,0 7,2",
		},
		{
			"use hands its fill down",
			`<defs><rect id="r" width="2" height="2"/></defs><use href="#r" fill="red"/>`,
			"fill #ff0000 0,0 2,2",
		},
		{
			"use does not override the element's own fill",
			`<defs><rect id="r" fill="lime" width="2" height="2"/></defs><use href="#r" fill="red"/>`,
			"fill #00ff00 0,0 2,2",
		},
		{
			"use of a group twice",
			`<defs><g id="r"><rect width="2" height="2"/></g></defs><use href="#r"/><use href="#r" x="9"/>`,
			"fill #000000 0,0 2,2 in r; fill #000000 9,0 11,2 in r",
		},
		{
			"use of something in another file",
			`<use id="u" href="other.svg#r"/><rect width="2" height="2"/>`,
			"fill #000000 0,0 2,2; left out: copy of something in another file (other.svg) (u)",
		},
		{
			"use of nothing",
			`<use id="u" href="#nothing"/><rect width="2" height="2"/>`,
			"fill #000000 0,0 2,2; left out: copy of an object that is missing or holds the copy itself (u)",
		},
		{
			"symbol with width and height from use",
			`<symbol id="s" viewBox="0 0 10 10"><rect width="5" height="5"/></symbol>` +
				`<use href="#s" width="40" height="40"/>`,
			"fill #000000 0,0 20,20",
		},
		{
			"symbol with preserveAspectRatio none",
			`<symbol id="s" viewBox="0 0 10 10" preserveAspectRatio="none"><rect width="5" height="5"/></symbol>` +
				`<use href="#s" width="40" height="20"/>`,
			"fill #000000 0,0 20,10",
		},
		{
			"xMinYMax meet",
			`<svg width="40" height="20" viewBox="0 0 10 10" preserveAspectRatio="xMinYMax meet">` +
				`<rect width="10" height="10"/></svg>`,
			"fill #000000 0,0 20,20",
		},
		{
			"xMaxYMid meet",
			`<svg width="40" height="20" viewBox="0 0 10 10" preserveAspectRatio="xMaxYMid meet">` +
				`<rect width="10" height="10"/></svg>`,
			"fill #000000 20,0 40,20",
		},
		{
			"slice cuts what leaves the viewport",
			`<svg width="40" height="20" viewBox="0 0 10 10" preserveAspectRatio="xMidYMin slice">` +
				`<rect width="10" height="10"/></svg>`,
			"fill #000000 0,0 40,20",
		},
		{
			"overflow visible",
			`<svg width="40" height="20" overflow="visible"><rect width="50" height="10"/></svg>`,
			"fill #000000 0,0 50,10",
		},
		{
			"a viewport without height",
			`<svg width="40" height="0" viewBox="0 0 1 1"><rect width="50" height="10"/></svg>` +
				`<rect width="2" height="2"/>`,
			"fill #000000 0,0 2,2",
		},
		{
			"switch by language",
			`<switch><rect systemLanguage="xx" width="1" height="1"/>` +
				`<rect systemLanguage="en-GB" width="2" height="2"/></switch>`,
			"fill #000000 0,0 2,2",
		},
		{
			"switch by required extensions",
			`<switch><rect requiredExtensions="urn:x" width="1" height="1"/><rect width="2" height="2"/></switch>`,
			"fill #000000 0,0 2,2",
		},
		{
			"a link is a group",
			`<a href="https://example.org"><rect width="2" height="2"/></a>`,
			"fill #000000 0,0 2,2",
		},
		// Gradients.
		{
			"linearGradient",
			`<linearGradient id="g"><stop stop-color="#000"/><stop offset="1" stop-color="#fff"/>` +
				`</linearGradient><rect id="r" fill="url(#g)" width="2" height="2"/>`,
			"fill #808080 0,0 2,2; changed: gradient became its mean colour (r)",
		},
		{
			"stop-opacity",
			`<linearGradient id="g"><stop stop-color="#f00" stop-opacity=".5"/></linearGradient>` +
				`<rect fill="url(#g)" width="2" height="2"/>`,
			"fill #ff0000 at 0.5 0,0 2,2",
		},
		{
			"a gradient without stops",
			`<linearGradient id="g"/><rect id="r" fill="url(#g)" width="2" height="2"/>`,
			"refused: the file holds nothing that could become a solid (object without fill and stroke). Convert " +
				"it to paths and save again",
		},
		{
			"stops from another gradient",
			`<linearGradient id="a"><stop stop-color="lime"/></linearGradient><linearGradient id="g" href="#a"/>` +
				`<rect fill="url(#g)" width="2" height="2"/>`,
			"fill #00ff00 0,0 2,2",
		},
		{
			"offsets in percent, out of order",
			`<linearGradient id="g"><stop offset="50%" stop-color="#000"/><stop offset="20%" stop-color="#fff"/>` +
				`</linearGradient><rect id="r" fill="url(#g)" width="2" height="2"/>`,
			"fill #808080 0,0 2,2; changed: gradient became its mean colour (r)",
		},
		{
			"radialGradient",
			`<radialGradient id="g"><stop stop-color="red"/><stop offset="1" stop-color="red"/></radialGradient>` +
				`<rect id="r" fill="url(#g)" width="2" height="2"/>`,
			"fill #ff0000 0,0 2,2; changed: gradient became its mean colour (r)",
		},
		{
			"gradientUnits userSpaceOnUse beyond the shape",
			`<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="50" x2="60"><stop stop-color="#00f"/>` +
				`<stop offset="1" stop-color="red"/></linearGradient>` +
				`<rect id="r" fill="url(#g)" width="2" height="2"/>`,
			"fill #0000ff 0,0 2,2; changed: gradient became its mean colour (r)",
		},
		{
			"a stroke's gradient",
			`<linearGradient id="g"><stop stop-color="#00f"/></linearGradient>` +
				`<path stroke="url(#g)" d="M10 10h20" stroke-width="2"/>`,
			"stroke #0000ff 10,9 30,11",
		},
		// Masks and clips.
		{
			"clip-path",
			`<clipPath id="c"><rect width="3" height="3"/></clipPath>` +
				`<rect clip-path="url(#c)" width="9" height="9"/>`,
			"fill #000000 0,0 3,3",
		},
		{
			"clip-path that is missing",
			`<rect id="r" clip-path="url(#c)" width="9" height="9"/>`,
			"fill #000000 0,0 9,9; changed: clipping path that is missing ignored (r)",
		},
		{
			"mask of white",
			`<mask id="m"><rect width="3" height="3" fill="white"/></mask>` +
				`<rect mask="url(#m)" width="9" height="9"/>`,
			"fill #000000 0,0 3,3",
		},
		{
			"mask that is missing",
			`<rect id="r" mask="url(#m)" width="9" height="9"/>`,
			"fill #000000 0,0 9,9; changed: mask that is missing ignored (r)",
		},
		{
			"mask of grey",
			`<mask id="m"><rect width="3" height="3" fill="#808080"/></mask>` +
				`<rect id="r" mask="url(#m)" width="9" height="9"/>`,
			"fill #000000 at 0.502 0,0 3,3; " +
				"changed: soft mask: its edge is where half of the object shows through (r)",
		},
		// Style sheets.
		{
			"a rule by type",
			`<style>rect{fill:red}</style><rect width="2" height="2"/>`,
			"fill #ff0000 0,0 2,2",
		},
		{
			"a rule by class",
			`<style>.a{fill:red}</style><rect class="b a" width="2" height="2"/>`,
			"fill #ff0000 0,0 2,2",
		},
		{
			"a rule by id beats one by class",
			`<style>#r{fill:lime}.a{fill:red}</style><rect id="r" class="a" width="2" height="2"/>`,
			"fill #00ff00 0,0 2,2",
		},
		{
			"a later rule of the same weight",
			`<style>.a{fill:lime}.b{fill:red}</style><rect class="b a" width="2" height="2"/>`,
			"fill #ff0000 0,0 2,2",
		},
		{
			"important",
			`<style>.a{fill:lime!important}#r{fill:red}</style><rect id="r" class="a" width="2" height="2"/>`,
			"fill #00ff00 0,0 2,2",
		},
		{
			"a style attribute beats rules",
			`<style>#r{fill:red}</style><rect id="r" style="fill:lime" width="2" height="2"/>`,
			"fill #00ff00 0,0 2,2",
		},
		{
			"a rule beats an attribute",
			`<style>rect{fill:red}</style><rect fill="lime" width="2" height="2"/>`,
			"fill #ff0000 0,0 2,2",
		},
		{
			"a descendant",
			`<style>g .a{fill:red}</style><g><g><rect class="a" width="2" height="2"/></g></g>`,
			"fill #ff0000 0,0 2,2",
		},
		{
			"a child",
			`<style>g>.a{fill:red}</style><g><a><rect class="a" width="2" height="2"/></a></g>`,
			"fill #000000 0,0 2,2",
		},
		{
			"all elements",
			`<style>*{fill:red}</style><rect width="2" height="2"/>`,
			"fill #ff0000 0,0 2,2",
		},
		{
			"several selectors",
			`<style>circle,rect{fill:red}</style><rect width="2" height="2"/>`,
			"fill #ff0000 0,0 2,2",
		},
		{
			"a selector that is not understood",
			`<style>rect:has(a){fill:red}</style><rect width="2" height="2"/>`,
			"fill #000000 0,0 2,2; left out: style rule that is not understood",
		},
		{
			"rules for print",
			`<style>@media print{rect{fill:red}}</style><rect width="2" height="2"/>`,
			"fill #000000 0,0 2,2",
		},
		{
			"rules for screens",
			`<style>@media screen{rect{fill:red}}</style><rect width="2" height="2"/>`,
			"fill #ff0000 0,0 2,2",
		},
		{
			"comments and CDATA",
			`<style><![CDATA[/* x */ rect /* y */ {fill:red}]]></style><rect width="2" height="2"/>`,
			"fill #ff0000 0,0 2,2",
		},
		// Markers and patterns.
		{
			"marker-start",
			`<marker id="m" overflow="visible" markerUnits="userSpaceOnUse"><rect width="4" height="4"/>` +
				`</marker><path marker-start="url(#m)" d="M10 10h20" stroke="red"/>`,
			"stroke #ff0000 10,9.5 30,10.5; fill #000000 10,10 14,14",
		},
		{
			"marker-mid in widths of the stroke",
			`<marker id="m" overflow="visible"><rect width="2" height="2"/></marker>` +
				`<path marker-mid="url(#m)" d="M10 10h20h20" stroke="red" fill="none" stroke-width="3"/>`,
			"stroke #ff0000 10,8.5 50,11.5; fill #000000 30,10 36,16",
		},
		{
			"marker-end turned along the line",
			`<marker id="m" overflow="visible" orient="auto" markerUnits="userSpaceOnUse">` +
				`<rect width="4" height="2"/></marker><path marker-end="url(#m)" d="M10 10v20" stroke="red"/>`,
			"stroke #ff0000 9.5,10 10.5,30; fill #000000 8,30 10,34",
		},
		{
			"refX and refY",
			`<marker id="m" refX="2" refY="1" overflow="visible" markerUnits="userSpaceOnUse">` +
				`<rect width="4" height="2"/></marker><path marker-end="url(#m)" d="M10 10v20" stroke="red"/>`,
			"stroke #ff0000 9.5,10 10.5,30; fill #000000 8,29 12,31",
		},
		{
			"a marker that is missing",
			`<path id="p" marker-end="url(#m)" d="M10 10v20" stroke="red"/>`,
			"stroke #ff0000 9.5,10 10.5,30; left out: marker that is missing (p)",
		},
		{
			"a pattern",
			`<pattern id="p" width="5" height="5" patternUnits="userSpaceOnUse"><rect width="2" height="2"/>` +
				`</pattern><rect fill="url(#p)" width="10" height="5"/>`,
			"fill #000000 0,0 2,2; fill #000000 5,0 7,2",
		},
	} {
		t.Run(c.name, func(t *testing.T) {
			s, err := read(c.body)
			got := ""
			if err != nil {
				got = "refused: " + err.Error()
			} else {
				got = likeness.Words(s, 1)
			}
			if got != c.want {
				t.Errorf("got  %s\nwant %s", got, c.want)
			}
		})
	}
}
