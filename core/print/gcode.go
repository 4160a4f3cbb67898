package print

import (
	"bufio"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"
)

// GCode writes a job as G-code: words of RS-274 (NIST, Kramer, Proctor, Messina, The NIST
// RS274NGC interpreter, 2000) and those for temperatures that printers have in common. Places
// are mm from the front left corner of the bed, lengths of filament are relative. Comments
// begin with a semicolon; the first ones are a header of lines "name: value".
func (j *Job) GCode(w io.Writer) error {
	g := &gcode{Writer: bufio.NewWriterSize(w, 1<<16), j: j, from: nowhere}
	g.header()
	s := &j.Setup
	g.linef("G21\nG90\nM83\nM140 S%g\nM104 S%g\nM190 S%g\nM109 S%g\nG28\nG92 E0", s.Material.Bed, s.Material.Nozzle, s.Material.Bed, s.Material.Nozzle)
	for i, l := range j.Laid {
		for _, c := range j.Changes {
			if c.Layer == i+1 && i > 0 {
				g.change(c, l.Z)
			}
		}
		g.linef("; layer %d of %d, %s mm up", i+1, len(j.Laid), short(l.Z))
		g.linef("G0 Z%s F%g", short(l.Z), 60*Rise)
		g.kind, g.speed = "", 0
		if i == 1 {
			g.linef("M106 S%.0f", 255*s.Material.Fan)
		}
		g.from = j.Moves(i, g.from, g.move)
	}
	up := math.Min(s.Bed[2], j.Size[2]+10)
	g.linef("G1 E-%g F%g\nM107\nM104 S0\nM140 S0\nG0 Z%s F%g\nG0 X0 Y%g F%g\nM2",
		Pull, 60*PullSpeed, short(up), 60*Rise, s.Bed[1], 60*s.Speeds.Travel)
	return g.Flush()
}

// nowhere is where the nozzle is when it does not matter.
var nowhere = [2]float64{math.Inf(-1), math.Inf(-1)}

type gcode struct {
	*bufio.Writer
	j     *Job
	from  [2]float64
	kind  string
	speed float64
	buf   []byte
}

func (g *gcode) linef(format string, a ...any) {
	fmt.Fprintf(g, format, a...)
	g.WriteByte('\n')
}

// plain keeps a name from ending its line.
func plain(s string) string {
	return strings.Map(func(r rune) rune {
		if r < ' ' || r == '(' || r == ')' || r == ';' {
			return ' '
		}
		return r
	}, s)
}

func (g *gcode) header() {
	j, s := g.j, &g.j.Setup
	g.linef("; Bildhauer print file 1")
	g.linef("; piece: %s", plain(j.Name))
	g.linef("; copies: %d", len(j.Places))
	g.linef("; bed: %g x %g x %g mm", s.Bed[0], s.Bed[1], s.Bed[2])
	g.linef("; nozzle: %g mm", s.Nozzle)
	g.linef("; material: %s, %g mm, %g g/cm3", s.Material.Name, s.Filament, s.Material.Density)
	g.linef("; layers: %d, the first %g mm, the others %g mm", len(j.Laid), s.First, s.Layer)
	g.linef("; time: %.0f s", j.Time())
	g.linef("; filament: %.1f mm, %.2f g", j.Filament(), j.Mass())
	for i, c := range j.Changes {
		if i > 0 {
			g.linef("; change: layer %d, %s mm up, %s, %s", c.Layer, short(c.Z), plain(c.Name), c.Color)
		}
	}
}

// Mass returns what the filament of the job weighs, g.
func (j *Job) Mass() float64 {
	d := j.Setup.Filament
	return j.Filament() * math.Pi / 4 * d * d / 1000 * j.Setup.Material.Density
}

// change stops for another filament beside the print.
func (g *gcode) change(c Change, z float64) {
	g.linef("G1 E-%g F%g\nG0 Z%s F%g\nG0 X0 Y0 F%g\n(MSG, change the filament: %s, %s)\nM0\nG1 E%g F%g", Pull, 60*PullSpeed,
		short(math.Min(z+5, g.j.Setup.Bed[2])), 60*Rise, 60*g.j.Setup.Speeds.Travel, plain(c.Name), c.Color, Pull, 60*PullSpeed)
	g.from = nowhere
}

func (g *gcode) move(m Move) {
	bed := &g.j.Setup.Bed
	b := g.buf[:0]
	if m.Empty {
		pull := math.Hypot(m.To[0]-g.from[0], m.To[1]-g.from[1]) > DripsOver
		if pull {
			b = fmt.Appendf(b, "G1 E-%g F%g\n", Pull, 60*PullSpeed)
		}
		b = g.place(append(b, "G0"...), m, bed)
		b = fmt.Appendf(b, " F%g\n", 60*m.Speed)
		if pull {
			b = fmt.Appendf(b, "G1 E%g F%g\n", Pull, 60*PullSpeed)
		}
		g.speed = 0
	} else {
		if k := KindNames[m.Kind]; k != g.kind {
			g.kind = k
			b = append(append(append(b, "; kind: "...), k...), '\n')
		}
		b = g.place(append(b, "G1"...), m, bed)
		b = strconv.AppendFloat(append(b, " E"...), m.E, 'f', 5, 64)
		if m.Speed != g.speed {
			b = fmt.Appendf(b, " F%g", 60*m.Speed)
			g.speed = m.Speed
		}
		b = append(b, '\n')
	}
	g.Write(b)
	g.buf, g.from = b, m.To
}

func (g *gcode) place(b []byte, m Move, bed *[3]float64) []byte {
	b = strconv.AppendFloat(append(b, " X"...), m.To[0]+bed[0]/2, 'f', 3, 64)
	return strconv.AppendFloat(append(b, " Y"...), m.To[1]+bed[1]/2, 'f', 3, 64)
}

// short writes a length to the micrometre, without zeros at the end.
func short(v float64) string { return strconv.FormatFloat(math.Round(v*1000)/1000, 'f', -1, 64) }
