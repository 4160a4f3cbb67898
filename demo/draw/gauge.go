package main

import (
	"bytes"
	"fmt"
	"math"
)

// The fit gauge: a plate with ten pockets, and a plug for each that is smaller all around by a twentieth of a millimetre more from
// one to the next. What goes in by hand tells the clearance that inlays need on a machine.
const (
	pocket = 10.0 // side, mm
	corner = 3.0  // cut off, so that a plug goes in one way only
	every  = 0.05 // mm
)

// keyed is a square with one corner cut off, smaller all around by so much.
func keyed(x, y, by float64) string {
	k := corner + by*(math.Sqrt2-1)
	lo, hi := by, pocket-by
	return fmt.Sprintf("M%.3f %.3fH%.3fV%.3fH%.3fV%.3fZ", x+k, y+lo, x+hi, y+hi, x+lo, y+k)
}

func gauge() []byte {
	var b, holes, plugs, labels, marks bytes.Buffer
	text := func(to *bytes.Buffer, x, y float64, s string) {
		fmt.Fprintf(to, "<text x=\"%g\" y=\"%g\">%s</text>\n", x, y, s)
	}
	for i := range 10 {
		x, row := 5+float64(i%5)*19, float64(i/5)
		by := every * float64(i+1)
		holes.WriteString(keyed(x, 6+24*row, 0))
		text(&labels, x+pocket/2, 6+24*row+pocket+6.4, fmt.Sprintf("%.2f", by))
		plugs.WriteString(keyed(x, 58+14*row, by))
		text(&marks, x+pocket/2+0.4, 58+14*row+pocket/2+2.2, fmt.Sprintf("%02.0f", 100*by))
	}
	b.WriteString(`<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="96mm" height="86mm" viewBox="0 0 96 86">
<title>Fit gauge of the Quellhaven workshop</title>
`)
	const plate = "<path id=\"plate\" fill=\"#35596b\" fill-rule=\"evenodd\" d=\"" +
		"M1 4A3 3 0 0 1 4 1H92A3 3 0 0 1 95 4V50A3 3 0 0 1 92 53H4A3 3 0 0 1 1 50Z%s\"/>\n"
	fmt.Fprintf(&b, plate, holes.String())
	fmt.Fprintf(&b, "<path id=\"plugs\" fill=\"#d8c7a0\" d=\"%s\"/>\n", plugs.String())
	const font = "font-family=\"DejaVu Sans\" font-weight=\"700\" text-anchor=\"middle\""
	fmt.Fprintf(&b, "<g id=\"clearances\" fill=\"#f1e7d3\" font-size=\"5\" %s>\n%s</g>\n", font, labels.String())
	fmt.Fprintf(&b, "<g id=\"marks\" fill=\"#a9492b\" font-size=\"5\" %s>\n%s</g>\n</svg>\n", font, marks.String())
	return b.Bytes()
}
