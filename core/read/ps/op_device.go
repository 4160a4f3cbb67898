package ps

import "bildhauer/core/artwork"

// deviceOps are the operators on devices; they change nothing here.
var deviceOps = map[string]op{
	"setpagedevice":            ignore(1),
	"setscreen":                ignore(3),
	"setcolorscreen":           ignore(12),
	"settransfer":              ignore(1),
	"setcolortransfer":         ignore(4),
	"setblackgeneration":       ignore(1),
	"setundercolorremoval":     ignore(1),
	"sethalftone":              ignore(1),
	"setoverprint":             opSetoverprint,
	"setstrokeadjust":          ignore(1),
	"setcolorrendering":        ignore(1),
	"setcachelimit":            ignore(1),
	"setsystemparams":          ignore(1),
	"setuserparams":            ignore(1),
	"setsmoothness":            ignore(1),
	"setbbox":                  ignore(4),
	"setcacheparams":           func(m *machine) error { _, err := m.toMark(); return err },
	"currentscreen":            opCurrentscreen,
	"currenttransfer":          func(m *machine) error { return m.push(object{kind: kArray, exec: true, ref: &array{}}) },
	"currentoverprint":         func(m *machine) error { return m.push(boolean(false)) },
	"currentpagedevice":        opCurrentpagedevice,
	"currentstrokeadjust":      func(m *machine) error { return m.push(boolean(false)) },
	"currenthalftone":          opCurrenthalftone,
	"currentblackgeneration":   func(m *machine) error { return m.push(object{kind: kArray, exec: true, ref: &array{}}) },
	"currentundercolorremoval": func(m *machine) error { return m.push(object{kind: kArray, exec: true, ref: &array{}}) },
	"currentcolortransfer":     opCurrentcolortransfer,
	"currentcolorscreen":       opCurrentcolorscreen,
	"currentcolorrendering":    opCurrentcolorrendering,
	"currentsystemparams":      func(m *machine) error { return m.push(parameters()) },
	"currentuserparams":        func(m *machine) error { return m.push(parameters()) },
	"currentcacheparams":       func(m *machine) error { return m.push(object{kind: kMark}) },
	"currentsmoothness":        func(m *machine) error { return m.push(realNum(0)) },
	"pdfmark":                  func(m *machine) error { _, err := m.toMark(); return err },
	"nulldevice":               func(m *machine) error { m.silent = true; return nil },
}

func opSetoverprint(m *machine) error {
	o, err := m.pop()
	if on := o.kind == kBool && o.n != 0; on && !m.told["overprint"] {
		m.told["overprint"] = true
		m.sheet.Note(artwork.NoteOverprint, "")
	}
	return err
}

func opCurrentscreen(m *machine) error {
	m.push(integer(60))
	m.push(integer(45))
	return m.push(object{kind: kArray, exec: true, ref: &array{}})
}

func opCurrentpagedevice(m *machine) error {
	d := newDict()
	d.put(
		"PageSize",
		object{
			kind: kArray,
			ref:  &array{[]object{realNum(m.page.W() / pxPerPt), realNum(m.page.H() / pxPerPt)}},
		},
	)
	d.put("HWResolution", object{kind: kArray, ref: &array{[]object{realNum(72), realNum(72)}}})
	return m.push(object{kind: kDict, ref: d})
}

func opCurrenthalftone(m *machine) error {
	d := newDict()
	d.put("HalftoneType", integer(1))
	d.put("Frequency", realNum(60))
	d.put("Angle", realNum(45))
	d.put("SpotFunction", object{kind: kArray, exec: true, ref: &array{[]object{name("pop", true)}}})
	return m.push(object{kind: kDict, ref: d})
}

func opCurrentcolortransfer(m *machine) error {
	for range 4 {
		m.push(object{kind: kArray, exec: true, ref: &array{}})
	}
	return nil
}

func opCurrentcolorscreen(m *machine) error {
	for range 4 {
		opCurrentscreen(m)
	}
	return nil
}

func opCurrentcolorrendering(m *machine) error {
	d := newDict()
	d.put("ColorRenderingType", integer(1))
	return m.push(object{kind: kDict, ref: d})
}
