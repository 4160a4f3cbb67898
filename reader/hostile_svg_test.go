package reader_test

func svg(body string) string {
	return `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="100" height="100">` + body + `<rect width="9" height="9"/></svg>`
}

func svgFiles() []hostile {
	files := map[string]string{}
	for _, part := range []map[string]string{svgTrees(), svgPaints(), svgStyles(), svgTexts(), svgFilters(), svgSyntax()} {
		for name, body := range part {
			files[name] = body
		}
	}
	return named("SVG", files)
}

// svgTrees grow by the tree of elements and by what refers to others.
func svgTrees() map[string]string {
	chain := func(n int, wrap func(i int) string) string {
		return `<g id="n0"><path d="M0 0h1v1z"/></g>` + each(n, wrap)
	}
	double := func(i int) string {
		return f(`<g id="n%d"><use href="#n%d"/><use href="#n%d"/></g>`, i, i-1, i-1)
	}
	defs := func(s string) string { return `<defs>` + s + `</defs>` }
	wide := func(kind, attr string) string { // copies of copies under a clip, mask or pattern
		return svg(defs(doubled(30, `<g id="n0"><path d="M0 0h1v1z"/></g>`, double)+f(`<%s id="c"><use href="#n30"/></%s>`, kind, kind)) +
			f(`<rect width="50" height="50" %s="url(#c)"/>`, attr))
	}
	return map[string]string{
		"groups in groups":           svg(times("<g>", 100_000) + times("</g>", 100_000)),
		"groups in groups, unclosed": svg(times("<g>", 500_000)),
		"svg in svg":                 svg(times(`<svg viewBox="0 0 9 9">`, 5_000) + times("</svg>", 5_000)),
		"links in links":             svg(times("<a>", 50_000) + times("</a>", 50_000)),
		"switches in switches":       svg(times("<switch>", 50_000) + times("</switch>", 50_000)),
		"empty groups":               svg(times("<g/>", 390_000)),
		"empty groups with styles":   svg(times(`<g style="fill:red;stroke:blue;opacity:.5"/>`, 200_000)),
		"comments":                   svg(times("<!-- -->", 2_000_000)),
		"a use of itself":            svg(`<g id="a"><use href="#a"/></g>`),
		"a ring of uses":             svg(each(1000, func(i int) string { return f(`<g id="n%d"><use href="#n%d"/></g>`, i, (i+1)%1000) })),
		"doubled uses":               svg(defs(doubled(40, `<g id="n0"><path d="M0 0h1v1z"/></g>`, double)) + `<use href="#n40"/>`),
		"doubled uses of nothing":    svg(defs(doubled(40, `<g id="n0"/>`, double)) + `<use href="#n40"/>`),
		"a long chain of uses":       svg(defs(chain(5000, func(i int) string { return f(`<g id="n%d"><use href="#n%d"/></g>`, i+1, i) })) + `<use href="#n5000"/>`),
		"doubled uses in a clip":     wide("clipPath", "clip-path"),
		"doubled uses in a mask":     wide("mask", "mask"),
		"doubled uses in a pattern":  wide("pattern", `width="9" fill`),
		"doubled symbols": svg(defs(doubled(40, `<symbol id="n0"><path d="M0 0h1v1z"/></symbol>`, func(i int) string {
			return f(`<symbol id="n%d"><use href="#n%d"/><use href="#n%d"/></symbol>`, i, i-1, i-1)
		})) + `<use href="#n40"/>`),
		"doubled clips": svg(defs(doubled(40, `<clipPath id="n0"><rect width="9" height="9"/></clipPath>`, func(i int) string {
			return f(`<clipPath id="n%d" clip-path="url(#n%d)"><rect width="9" height="9" clip-path="url(#n%d)"/></clipPath>`, i, i-1, i-1)
		})) + `<rect width="9" height="9" clip-path="url(#n40)"/>`),
		"doubled masks": svg(defs(doubled(40, `<mask id="n0"><rect width="9" height="9" fill="#fff"/></mask>`, func(i int) string {
			return f(
				`<mask id="n%d"><rect width="9" height="9" fill="#aaa" mask="url(#n%d)"/><rect width="9" height="9" fill="#bbb" mask="url(#n%d)"/></mask>`,
				i,
				i-1,
				i-1,
			)
		})) + `<rect width="9" height="9" mask="url(#n40)"/>`),
		"doubled patterns": svg(defs(doubled(30, `<pattern id="n0" width="1" height="1"><path d="M0 0h1v1z"/></pattern>`, func(i int) string {
			return f(`<pattern id="n%d" width="0.5" height="0.5"><rect width="9" height="9" fill="url(#n%d)"/></pattern>`, i, i-1)
		})) + `<rect width="90" height="90" fill="url(#n30)"/>`),
		"doubled markers": svg(defs(doubled(30, `<marker id="n0"><path d="M0 0h1v1z"/></marker>`, func(i int) string {
			return f(`<marker id="n%d"><path d="M0 0h1v1z" marker-mid="url(#n%d)" marker-end="url(#n%d)"/></marker>`, i, i-1, i-1)
		})) + `<path d="M0 0h9v9z" marker-mid="url(#n30)"/>`),
		"markers on every point of many paths": svg(`<marker id="m"><path d="M0 0h1v1z"/></marker>` +
			each(200, func(int) string { return `<path marker-mid="url(#m)" d="M0 0` + times("h1v1", 4000) + `"/>` })),
		"clips in clips in clips": svg(defs(each(2000, func(i int) string {
			return f(`<clipPath id="c%d" clip-path="url(#c%d)"><rect width="9" height="9"/></clipPath>`, i, i+1)
		})) + times(`<rect width="9" height="9" clip-path="url(#c0)"/>`, 500)),
		"clips of many parts cut themselves": svg(`<clipPath id="a"><rect width="5" height="5"/></clipPath><clipPath id="c">` +
			times(`<rect width="9" height="9" clip-path="url(#a)"/>`, 5000) + `</clipPath><rect width="9" height="9" clip-path="url(#c)"/>`),
		"many clips on each of many shapes": svg(`<clipPath id="c"><path d="M0 0h9v9z"/></clipPath>` + times(`<g clip-path="url(#c)">`, 300) +
			times(`<path d="M0 0h9v9z"/>`, 20_000) + times(`</g>`, 300)),
		"a large clip for each of many shapes": svg(`<clipPath id="c" clipPathUnits="objectBoundingBox"><path d="M0 0` + times("l.1.1", 20_000) + `"/></clipPath>` +
			each(2000, func(i int) string { return f(`<rect x="%d" width="9" height="9" clip-path="url(#c)"/>`, i) })),
		"a soft mask on each of many shapes": svg(`<mask id="m" maskContentUnits="objectBoundingBox"><rect width="1" height="1" fill="#888"/><rect width=".5" height="1" fill="#aaa"/></mask>` +
			each(3000, func(i int) string { return f(`<rect x="%d" width="9" height="9" mask="url(#m)"/>`, i) })),
		"boxes of large groups": svg(`<clipPath id="c" clipPathUnits="objectBoundingBox"><rect width="1" height="1"/></clipPath>` +
			times(`<g clip-path="url(#c)">`, 200) + times(`<path d="M0 0h9v9z"/>`, 3000) + times("</g>", 200)),
		"copies of a large group": svg(defs(`<g id="a">`+times(`<path d="M0 0h9v9z"/>`, 3000)+`</g>`) + times(`<use href="#a"/>`, 40_000)),
		"copies of a large path":  svg(defs(`<path id="a" d="M0 0`+times("h1v1", 50_000)+`"/>`) + times(`<use href="#a"/>`, 40_000)),
		"an image in an image":    svg(nestedImages(12)),
	}
}

func nestedImages(n int) string {
	doc := `<rect width='9' height='9'/>`
	for range n {
		doc = f(`<image width="9" height="9" href="data:image/svg+xml,%s"/><image width="9" height="9" href="data:image/svg+xml,%s"/>`,
			escaped(`<svg xmlns='http://www.w3.org/2000/svg'>`+doc+`</svg>`), escaped(`<svg/>`))
		if len(doc) > 4<<20 {
			break
		}
	}
	return doc
}

func escaped(s string) string {
	var out []byte
	for i := range len(s) {
		switch c := s[i]; c {
		case '<', '>', '"', '%', '#', '&':
			out = append(out, f("%%%02x", c)...)
		default:
			out = append(out, c)
		}
	}
	return string(out)
}

// svgPaints grow by paths, strokes, gradients and patterns.
func svgPaints() map[string]string {
	stops := func(n int) string {
		return each(n, func(i int) string {
			return f(`<stop offset="%g" stop-color="#%06x"/>`, float64(i)/float64(n), i&0xffffff)
		})
	}
	return map[string]string{
		"a path of millions of moves":     svg(`<path d="` + times("M1 1", 4_000_000) + `"/>`),
		"a path of millions of lines":     svg(`<path d="M0 0` + times("h1v1", 3_000_000) + `"/>`),
		"a path of millions of arcs":      svg(`<path d="M0 0` + times("a1 1 0 1 1 1 1", 1_000_000) + `"/>`),
		"a number of a million figures":   svg(`<path d="M` + times("9", 2_000_000) + ` 0h1v1z"/>`),
		"numbers with great exponents":    svg(`<path d="M0 0` + times("h1e999999999", 10_000) + `z"/>`),
		"points of a polygon":             svg(`<polygon points="` + times("1,1 2,2 ", 2_000_000) + `"/>`),
		"a path that is very near itself": svg(`<path d="M0 0` + times("l1e-30 1e-30", 300_000) + `z"/>`),
		"dashes of nothing":               svg(`<path stroke="red" stroke-width="1" stroke-dasharray="1e-9" d="M0 0h100000v100000"/>`),
		"dashes on many paths":            svg(times(`<path stroke="red" stroke-dasharray=".01" d="M0 0h90v90h-90z"/>`, 5000)),
		"a list of a million dashes":      svg(`<path stroke="red" stroke-dasharray="` + times("1 ", 1_000_000) + `" d="M0 0h90"/>`),
		"a list of dashes on each of many": svg(`<g stroke="red" stroke-dasharray="` + times("1 ", 20_000) + `">` + times(`<path d="M0 0h9"/>`, 20_000) +
			`</g>`),
		"round joins of a great width": svg(`<path stroke="red" stroke-width="1e6" stroke-linejoin="round" d="M0 0` + times("h1v1", 50_000) + `"/>`),
		"a gradient of many stops":     svg(`<linearGradient id="g">` + stops(300_000) + `</linearGradient><rect width="9" height="9" fill="url(#g)"/>`),
		"many stops on many shapes":    svg(`<linearGradient id="g">` + stops(20_000) + `</linearGradient><g fill="url(#g)">` + times(`<rect width="9" height="9"/>`, 20_000) + `</g>`),
		"a ring of gradients":          svg(`<linearGradient id="a" href="#b"/><linearGradient id="b" href="#a"/><rect width="9" height="9" fill="url(#a)"/>`),
		"a chain of gradients on many": svg(each(3000, func(i int) string { return f(`<linearGradient id="g%d" href="#g%d"/>`, i, i+1) }) +
			`<g fill="url(#g0)">` + times(`<rect width="9" height="9"/>`, 20_000) + `</g>`),
		"a pattern of tiny cells":         svg(`<pattern id="p" width="1e-9" height="1e-9"><rect width="9" height="9"/></pattern><rect width="90" height="90" fill="url(#p)"/>`),
		"a pattern of many cells on many": svg(`<pattern id="p" width=".03" height=".03"><path d="M0 0h1v1z"/></pattern>` + times(`<rect width="90" height="90" fill="url(#p)"/>`, 3000)),
		"a pattern of fine cells on many": svg(`<pattern id="p" width=".001" height=".001">` + times(`<path d="M0 0h1v1z"/>`, 300) + `</pattern>` +
			times(`<rect width="90" height="90" fill="url(#p)"/>`, 3000)),
		"a pattern of itself":          svg(`<pattern id="p" width=".5" height=".5"><rect width="9" height="9" fill="url(#p)"/></pattern><rect width="90" height="90" fill="url(#p)"/>`),
		"a ring of patterns":           svg(`<pattern id="p" href="#q"/><pattern id="q" href="#p"/><rect width="90" height="90" fill="url(#p)"/>`),
		"a pattern on a dashed stroke": svg(`<pattern id="p" width=".05" height=".05"><path d="M0 0h9v9z"/></pattern>` + times(`<path stroke="url(#p)" stroke-width="3" stroke-dasharray=".1" d="M0 0h90v90"/>`, 300)),
		"shapes of different colours":  svg(each(100_000, func(i int) string { return f(`<rect width="9" height="9" fill="#%06x"/>`, i*163) })),
		"distinct notes":               svg(each(100_000, func(i int) string { return f(`<x%d/>`, i) })),
		"distinct unknown colours":     svg(each(100_000, func(i int) string { return f(`<rect width="9" height="9" fill="c%d"/>`, i) })),
		"long names":                   svg(each(100, func(i int) string { return f(`<rect id="%s%d" width="9" height="9"/>`, times("n", 200_000), i) })),
		"the same name":                svg(times(`<rect id="a" width="9" height="9"/>`, 150_000)),
		"transforms of many parts":     svg(`<rect width="9" height="9" transform="` + times("rotate(1)", 1_000_000) + `"/>`),
		"transforms to nothing":        svg(times(`<g transform="scale(1e-300)">`, 300) + `<rect width="9" height="9"/>` + times("</g>", 300)),
		"huge coordinates":             svg(`<path d="M1e38 1e38L-1e38 3e37 2e37 -1e38z"/>`),
		"a view of nothing":            `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1e-300 1e-300" width="1e300" height="1e300"><rect width="9" height="9"/></svg>`,
	}
}

// svgStyles grow by style rules and selectors.
func svgStyles() map[string]string {
	rules := func(n int, sel func(i int) string) string {
		return `<style>` + each(n, func(i int) string { return sel(i) + `{fill:red}` }) + `</style>`
	}
	shapes := times(`<rect class="a b c" width="1" height="1"/>`, 20_000)
	return map[string]string{
		"rules times elements":    svg(rules(20_000, func(i int) string { return f(".k%d", i) }) + shapes),
		"selectors in a rule":     svg(`<style>` + each(200_000, func(i int) string { return f(".k%d,", i) }) + `a{fill:red}</style>` + shapes),
		"declarations in a rule":  svg(`<style>rect{` + times("fill:red;", 300_000) + `}</style>` + shapes),
		"descendants":             svg(rules(2000, func(int) string { return times("g ", 40) + "rect" }) + times("<g>", 300) + times(`<rect width="1" height="1"/>`, 3000) + times("</g>", 300)),
		"siblings":                svg(rules(500, func(int) string { return times("rect ~ ", 30) + "rect.x" }) + times(`<rect width="1" height="1"/>`, 20_000)),
		"counted children":        svg(rules(500, func(i int) string { return f("rect:nth-child(%dn+1)", i+2) }) + times(`<rect width="1" height="1"/>`, 20_000)),
		"not of not":              svg(`<style>rect` + times(":not(", 50_000) + "a" + times(")", 50_000) + `{fill:red}</style>` + shapes),
		"not of many":             svg(rules(300, func(int) string { return "rect:not(" + times(".a,", 500) + ".b)" }) + shapes),
		"attributes":              svg(rules(3000, func(i int) string { return f(`[class*="%d"]`, i) }) + shapes),
		"imports of imports":      svg(`<style>@import url("data:text/css,` + times("@import url(x);", 50_000) + `");</style>`),
		"an open block":           svg(`<style>rect{` + times("a{", 200_000) + `</style>`),
		"a style of a megabyte":   svg(`<style>/*` + times("*", 4_000_000) + `*/</style>`),
		"inline styles":           svg(times(`<rect width="1" height="1" style="`+times("fill:red;", 50)+`"/>`, 10_000)),
		"attributes of a element": svg(`<rect ` + each(100_000, func(i int) string { return f(`a%d="1" `, i) }) + `width="9" height="9"/>`),
		"a class of many":         svg(rules(500, func(i int) string { return f(".k%d", i) }) + times(`<rect width="1" height="1" class="`+each(500, func(i int) string { return f("k%d ", i+600) })+`"/>`, 1000)),
		"sizes in sizes":          svg(times(`<g font-size="2em">`, 390) + `<text>a</text>` + times("</g>", 390)),
	}
}

// svgTexts grow by letters, spans, fonts and places.
func svgTexts() map[string]string {
	drawn := func(n int) string {
		return `<font><font-face font-family="q" units-per-em="100"/>` + each(n, func(i int) string {
			return f(`<glyph unicode="%c" glyph-name="g%d" horiz-adv-x="9" d="M0 0h9v9z"/>`, rune(0x4e00+i), i)
		}) + `</font>`
	}
	return map[string]string{
		"a long text":              svg(`<text>` + times("Quay ", 400_000) + `</text>`),
		"a text of one long word":  svg(`<text>` + times("Q", 1_000_000) + `</text>`),
		"spans":                    svg(`<text>` + times("<tspan>a</tspan>", 150_000) + `</text>`),
		"spans in spans":           svg(`<text>` + times("<tspan>", 50_000) + "a" + times("</tspan>", 50_000) + `</text>`),
		"places of letters":        svg(`<text x="` + times("1 ", 500_000) + `">` + times("a", 100_000) + `</text>`),
		"places in every span":     svg(`<text>` + times(`<tspan x="`+times("1 ", 300)+`">ab</tspan>`, 3000) + `</text>`),
		"turns of letters":         svg(`<text rotate="` + times("1 ", 500_000) + `">` + times("a", 50_000) + `</text>`),
		"lengths in spans":         svg(`<text textLength="9">` + times(`<tspan textLength="9">`, 300) + times("a", 10_000) + times(`</tspan>`, 300) + `</text>`),
		"decorated letters":        svg(`<text text-decoration="underline overline line-through">` + times("a", 200_000) + `</text>`),
		"letters along a path":     svg(`<path id="p" d="M0 0` + times("l1 1", 100_000) + `"/><text><textPath href="#p">` + times("a", 50_000) + `</textPath></text>`),
		"paths for many texts":     svg(`<path id="p" d="M0 0` + times("l1 1", 20_000) + `"/>` + times(`<text><textPath href="#p">a</textPath></text>`, 2000)),
		"texts of texts":           svg(`<text id="a">` + times("abc", 5000) + `</text>` + times(`<text><tref href="#a"/></text>`, 5000)),
		"marks on marks":           svg(`<text>a` + times("\u0301", 200_000) + `</text>`),
		"both directions":          svg(`<text>` + times("a\u05d0", 200_000) + `</text>`),
		"letters of no font":       svg(`<text>` + each(100_000, func(i int) string { return string(rune(0x20000 + i%40_000)) }) + `</text>`),
		"families":                 svg(`<text font-family="` + times("x,", 300_000) + `">a</text>`),
		"families for many texts":  svg(`<g font-family="` + times("x,", 3000) + `">` + times(`<text>a</text>`, 5000) + `</g>`),
		"a drawn font of many":     svg(drawn(20_000) + `<text font-family="q">` + times("一", 20_000) + `</text>`),
		"pairs of a drawn font":    svg(`<font><font-face font-family="q"/>` + times(`<glyph unicode="a"/>`, 10) + times(`<hkern u1="a" u2="a" k="1"/>`, 100_000) + `</font><text font-family="q">` + times("a", 50_000) + `</text>`),
		"ligatures of a drawn one": svg(`<font><font-face font-family="q"/>` + each(3000, func(i int) string { return `<glyph unicode="` + times("a", i%300+1) + `"/>` }) + `</font><text font-family="q">` + times("a", 20_000) + `</text>`),
		"a letter of a large path": svg(`<font><font-face font-family="q"/><glyph unicode="a" horiz-adv-x="1" d="M0 0` + times("h1v1", 20_000) + `"/></font><text font-family="q">` + times("a", 20_000) + `</text>`),
		"a size of nothing":        svg(`<text font-size="1e-300">a</text><text font-size="1e300">a</text>`),
		"clips by text":            svg(`<clipPath id="c"><text>` + times("Quay", 5000) + `</text></clipPath>` + times(`<rect width="9" height="9" clip-path="url(#c)"/>`, 3000)),
	}
}

// svgFilters grow by filters.
func svgFilters() map[string]string {
	filter := func(steps string) string {
		return svg(`<filter id="f" x="-9" y="-9" width="20" height="20">` + steps + `</filter><g filter="url(#f)">` + times(`<rect width="9" height="9"/>`, 50) + `</g>`)
	}
	double := `<feMerge result="a"><feMergeNode in="a"/><feMergeNode in="a"/></feMerge>`
	return map[string]string{
		"doubled merges":         filter(`<feOffset dx="1" result="a"/>` + times(double, 40)),
		"moved a thousand times": filter(times(`<feOffset dx="1"/>`, 100_000)),
		"cut by cuts":            filter(`<feOffset dx="1" result="a"/>` + times(`<feComposite operator="xor" in="a" in2="SourceGraphic" result="a"/>`, 40)),
		"grown by much":          svg(`<filter id="f"><feMorphology operator="dilate" radius="5"/></filter><path filter="url(#f)" d="M0 0` + times("l1 1-1 1", 100_000) + `"/>`),
		"images of images": svg(each(60, func(i int) string {
			return f(
				`<filter id="f%d"><feImage href="#g%d"/><feImage href="#g%d"/></filter><g id="g%d" filter="url(#f%d)"><rect width="9" height="9"/></g>`,
				i,
				i+1,
				i+1,
				i,
				i,
			)
		})),
		"a filter of itself":    svg(`<filter id="f"><feImage href="#g"/></filter><g id="g" filter="url(#f)"><rect width="9" height="9"/></g>`),
		"curves of many values": svg(`<filter id="f"><feComponentTransfer><feFuncR type="table" tableValues="` + times("0 1 ", 300_000) + `"/></feComponentTransfer></filter>` + times(`<rect width="9" height="9" filter="url(#f)"/>`, 300)),
		"filters in filters":    svg(`<filter id="f"><feOffset dx="1" result="a"/><feMerge><feMergeNode in="a"/><feMergeNode in="SourceGraphic"/></feMerge></filter>` + times(`<g filter="url(#f)">`, 60) + `<rect width="9" height="9"/>` + times(`</g>`, 60)),
		"a filter on many":      svg(`<filter id="f">` + times(`<feOffset dx="1"/>`, 300) + `</filter>` + times(`<rect width="9" height="9" filter="url(#f)"/>`, 20_000)),
	}
}

// svgSyntax grow by what a parser does.
func svgSyntax() map[string]string {
	entities := func(n, each int, first string) string {
		s := `<!DOCTYPE svg [<!ENTITY e0 "` + first + `">`
		for i := range n {
			s += f(`<!ENTITY e%d "%s">`, i+1, times(f("&e%d;", i), each))
		}
		return s + `]>`
	}
	use := func(n int) string {
		return f(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><desc>&e%d;</desc><rect width="9" height="9"/></svg>`, n)
	}
	return map[string]string{
		"entities of entities":   entities(20, 10, "lol") + use(20),
		"entities of elements":   entities(6, 10, "<g/>") + use(6),
		"an entity used often":   entities(0, 0, times("a", 100_000)) + svg(`<desc>`+times("&e0;", 100_000)+`</desc>`),
		"entities in attributes": entities(8, 10, "a") + svg(times(`<g id="&e8;"/>`, 100)),
		"an entity of itself":    `<!DOCTYPE svg [<!ENTITY a "&b;"><!ENTITY b "&a;">]>` + svg(`<desc>&a;</desc>`),
		"a hundred thousand entities": `<!DOCTYPE svg [` + each(
			100_000,
			func(i int) string { return f(`<!ENTITY a%d "x">`, i) },
		) + `]>` + svg(`<desc>&a5;</desc>`),
		"entities from elsewhere":     `<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///dev/zero"><!ENTITY % b SYSTEM "http://127.0.0.1/">%b;]>` + svg(`<desc>&a;</desc>`),
		"character references":        svg(`<desc>` + times("&#x41;", 2_000_000) + `</desc>`),
		"a doctype that never ends":   `<!DOCTYPE svg [` + times("<!--", 500_000),
		"an attribute without an end": `<svg xmlns="` + times("a", 8<<20),
		"a name without an end":       `<` + times("a", 8<<20),
		"namespaces":                  svg(each(50_000, func(i int) string { return f(`<g xmlns:n%d="urn:%d"/>`, i, i) })),
		"namespaces in namespaces":    svg(each(300, func(i int) string { return f(`<g xmlns:n%d="urn:%d">`, i, i) }) + times("</g>", 300)),
		"instructions":                times("<?a b?>", 500_000) + svg(""),
		"character data":              svg(times("<![CDATA[x]]>", 500_000)),
		"an address without an end":   svg(`<image href="data:image/png;base64,` + times("A", 12<<20) + `"/>`),
		"addresses":                   svg(times(`<image width="1" height="1" href="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg'/%3E"/>`, 50_000)),
		"in UTF-16, cut off":          "\xff\xfe" + times("<\x00", 1_000_000) + "<",
		"only white space":            times(" ", 30<<20),
		"nothing but tags":            times("<", 8<<20),
	}
}
