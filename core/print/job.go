package print

import "math"

// Job is a print as it leaves for a printer.
type Job struct {
	Name    string
	Setup   Setup
	Size    [3]float64 // of the piece, mm
	Places  []Place    // of the copies
	Around  []Path     // skirt or brim, mm from the middle of the bed
	Laid    []Laid     // of one copy
	Changes []Change   // of the filament

	times []float64 // of each layer, s
	slow  []float64 // of each layer: the share of the speeds that it is laid with
}

// NewJob lays a piece that was cut into layers out on the bed. lo and hi are its box, mm.
func NewJob(name string, layers []Layer, laid []Laid, step float64, lo, hi [3]float64, changes []Change, s Setup) (*Job, error) {
	j := &Job{Name: name, Setup: s, Laid: laid, Changes: changes}
	for k := range 3 {
		j.Size[k] = hi[k] - lo[k]
	}
	var err error
	if j.Places, err = Pack(layers, step, lo, hi, &s); err != nil {
		return nil, err
	}
	if len(layers) > 0 {
		middle := [2]float64{(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2}
		if j.Around, err = skirt(layers[0].Area, step, middle, j.Places, &s); err != nil {
			return nil, err
		}
	}
	j.times = j.layerTimes()
	return j, nil
}

// Move is one straight way of the nozzle.
type Move struct {
	To         [2]float64 // mm from the middle of the bed
	Kind       Kind       // of what is laid
	Empty      bool       // nothing is laid
	Pull, Push bool       // the filament is drawn back before it, and pushed back in after it
	Speed      float64    // mm/s
	E          float64    // filament that is pushed in, mm
}

// Pull is by how much the filament is drawn back before a way on which it would drip, mm, and how fast, mm/s.
const (
	Pull      = 0.8
	PullSpeed = 35.0
)

// nowhere is where the nozzle is when it does not matter.
var nowhere = [2]float64{math.Inf(-1), math.Inf(-1)}

// Moves calls f for every way of a layer in turn. from is where the nozzle is before, or nowhere; where it is afterwards is
// returned.
func (j *Job) Moves(layer int, from [2]float64, f func(m Move)) [2]float64 {
	if layer == 0 {
		for i := range j.Around {
			from = j.walk(&j.Around[i], layer, Place{}, from, f)
		}
	}
	l := &j.Laid[layer]
	for _, at := range j.Places {
		for i := range l.Paths {
			p := l.Paths[i]
			if i == 0 {
				p.Way, p.Pull = l.Way, l.Pull
				if len(j.Places) > 1 || from == nowhere {
					p.Way, p.Pull = nil, true
				}
			}
			from = j.walk(&p, layer, at, from, f)
		}
	}
	return from
}

// walk goes to a path and along it.
func (j *Job) walk(p *Path, layer int, at Place, from [2]float64, f func(m Move)) [2]float64 {
	place := func(q [2]float32) [2]float64 { return at.Put([2]float64{float64(q[0]), float64(q[1])}) }
	section := math.Pi / 4 * j.Setup.Filament * j.Setup.Filament
	if len(p.Points) < 2 {
		return from
	}
	if begin := place(p.Points[0]); begin != from {
		for i, q := range p.Way {
			f(Move{To: place(q), Empty: true, Speed: j.Setup.Speeds.Travel, Pull: p.Pull && i == 0})
		}
		f(Move{To: begin, Empty: true, Speed: j.Setup.Speeds.Travel, Pull: p.Pull && len(p.Way) == 0, Push: p.Pull})
		from = begin
	}
	speed := j.Speed(p.Kind, layer)
	for k := range p.stretches() {
		to, long, wide := p.stretch(k)
		from = place(to)
		f(Move{To: from, Kind: p.Kind, Speed: speed, E: long * wide * j.Laid[layer].Height / section})
	}
	return from
}

// Speed is how fast lines of a kind are laid in a layer, mm/s.
func (j *Job) Speed(k Kind, layer int) float64 {
	set := j.speed(k, layer)
	return math.Max(math.Min(Slowest, set), set*j.slow[layer])
}

func (j *Job) speed(k Kind, layer int) float64 {
	v := &j.Setup.Speeds
	switch {
	case layer == 0:
		return v.First
	case k == Outer, k == Thin:
		return v.Outer
	case k == Inner:
		return v.Inner
	case k == Bridge:
		return math.Min(Spans, v.Fill)
	}
	return v.Fill
}

// Filament returns how much is pushed in, mm.
func (j *Job) Filament() (sum float64) {
	section := math.Pi / 4 * j.Setup.Filament * j.Setup.Filament
	for i := range j.Around {
		sum += j.Around[i].Covers() * j.Laid[0].Height / section
	}
	covered := map[*Path]float64{}
	for _, l := range j.Laid {
		if len(l.Paths) == 0 {
			continue
		}
		c, ok := covered[&l.Paths[0]]
		if !ok {
			for i := range l.Paths {
				c += l.Paths[i].Covers()
			}
			covered[&l.Paths[0]] = c
		}
		sum += c * l.Height / section * float64(len(j.Places))
	}
	return sum
}

// Volume returns what one copy has without skirt or brim, mm3.
func (j *Job) Volume() (sum float64) {
	for _, l := range j.Laid {
		for i := range l.Paths {
			sum += l.Paths[i].Covers() * l.Height
		}
	}
	return sum
}

// Times returns how long each layer takes, s.
func (j *Job) Times() []float64 { return j.times }

// Time returns how long the whole print takes, s, with heating.
func (j *Job) Time() float64 {
	sum := j.Heating()
	for _, t := range j.times {
		sum += t
	}
	return sum
}

// How fast nozzles and beds are heated, degrees a second, and from what on.
const (
	NozzleHeats = 3.0
	BedHeats    = 1.5
	Room        = 21.0 // degrees Celsius
)

// Heating returns how long it takes until both the nozzle and the bed are hot, s.
func (j *Job) Heating() float64 {
	m := &j.Setup.Material
	return max(0, (m.Nozzle-Room)/NozzleHeats, (m.Bed-Room)/BedHeats)
}

// Bytes returns about how much memory the job holds.
func (j *Job) Bytes() int64 {
	n := int64(256)
	counted := map[*Path]bool{}
	for _, l := range j.Laid {
		n += 64
		if len(l.Paths) == 0 || counted[&l.Paths[0]] {
			continue
		}
		counted[&l.Paths[0]] = true
		for i := range l.Paths {
			n += 96 + 8*int64(len(l.Paths[i].Points)) + 4*int64(len(l.Paths[i].Widths))
		}
	}
	return n
}
