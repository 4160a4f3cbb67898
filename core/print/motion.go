package print

import "math"

// Accel is how fast the nozzle gains speed, mm/s2, and Swerve by how much it may leave a
// corner while it turns, mm: figures of machines with a moving bed.
const (
	Accel  = 1500.0
	Swerve = 0.02
)

// Motion adds up how long ways take, one after the other, by a model with acceleration: on
// each the nozzle gains speed, keeps it and loses it again. A corner is taken as fast as it
// could be driven along the arc that touches both ways and stays within Swerve of the corner:
// with an angle t between the ways the arc has the radius r = Swerve sin(t/2) / (1 - sin(t/2)),
// and what turns it is no more than Accel: v^2 = Accel r. The zero value is at rest at 0, 0.
type Motion struct {
	at    [2]float64
	queue []leg
}

type leg struct {
	long, speed float64
	enter       float64    // the most speed that the corner before it lets pass
	way         [2]float64 // direction
}

// Go adds a way.
func (m *Motion) Go(to [2]float64, speed float64) {
	dx, dy := to[0]-m.at[0], to[1]-m.at[1]
	long := math.Hypot(dx, dy)
	m.at = to
	if long < 1e-9 {
		return
	}
	l := leg{long: long, speed: speed, way: [2]float64{dx / long, dy / long}}
	if n := len(m.queue); n > 0 {
		l.enter = math.Min(corner(m.queue[n-1].way, l.way), math.Min(m.queue[n-1].speed, speed))
	}
	m.queue = append(m.queue, l)
}

// corner returns how fast a corner can be taken.
func corner(a, b [2]float64) float64 {
	cos := -(a[0]*b[0] + a[1]*b[1]) // of the angle between the ways, seen from the corner
	half := math.Sqrt(math.Max(0, (1-cos)/2))
	if half > 1-1e-9 {
		return math.Inf(1)
	}
	return math.Sqrt(Accel * Swerve * half / (1 - half))
}

// Stop brings the nozzle to rest and returns how long all ways took since the last stop, s.
func (m *Motion) Stop() (t float64) {
	q := m.queue
	// No faster into a way than it can be slowed down on, from the end on.
	next := 0.0
	for i := len(q) - 1; i >= 0; i-- {
		q[i].enter = math.Min(q[i].enter, math.Sqrt(next*next+2*Accel*q[i].long))
		next = q[i].enter
	}
	v := 0.0
	for i := range q {
		out := 0.0
		if i+1 < len(q) {
			out = math.Min(q[i+1].enter, math.Sqrt(v*v+2*Accel*q[i].long))
		}
		t += q[i].time(v, out)
		v = out
	}
	m.queue = q[:0]
	return t
}

// time returns how long a way takes that is entered and left with given speeds.
func (l *leg) time(in, out float64) float64 {
	top := math.Min(l.speed, math.Sqrt((2*Accel*l.long+in*in+out*out)/2))
	ramps := (2*top*top - in*in - out*out) / (2 * Accel)
	return (2*top-in-out)/Accel + math.Max(0, l.long-ramps)/top
}

// clock finds how long what a printer is told takes. It starts where the printer is at rest: at the front left corner.
type clock struct {
	motion Motion
	time   float64 // s
	z      float64 // mm
}

func (c *clock) layer(int)     {}
func (c *clock) fan(float64)   {}
func (c *clock) change(Change) {}
func (c *clock) rest()         {}

func (c *clock) rise(z float64) {
	c.time += c.motion.Stop() + math.Abs(z-c.z)/Rise
	c.z = z
}

func (c *clock) pull(long float64) { c.time += c.motion.Stop() + math.Abs(long)/PullSpeed }
func (c *clock) travel(m Move)     { c.motion.Go(m.To, m.Speed) }
func (c *clock) lay(m Move)        { c.motion.Go(m.To, m.Speed) }

// layerTimes works out how long each layer takes, and by how much it is laid slower so that it takes as long as its
// material needs to set. A layer that has the same paths as another one, and follows on the same, takes as long.
func (j *Job) layerTimes() []float64 {
	out := make([]float64, len(j.Laid))
	j.slow = make([]float64, len(j.Laid))
	type pair struct {
		below, here *Path
		height      float64
	}
	type known struct{ time, slow float64 }
	have := map[pair]known{}
	corner := [2]float64{-j.Setup.Bed[0] / 2, -j.Setup.Bed[1] / 2}
	for i, l := range j.Laid {
		j.slow[i] = 1
		key := pair{height: l.Height}
		at, from, z := corner, nowhere, l.Z-l.Height
		if i > 0 && len(j.Laid[i-1].Paths) > 0 {
			key.below = &j.Laid[i-1].Paths[0]
			from = j.last(i - 1)
			at = from
		}
		if len(l.Paths) > 0 {
			key.here = &l.Paths[0]
		}
		for _, c := range j.Changes {
			if c.Layer == i+1 && i > 0 { // it is told in the layer before
				out[i-1] += j.away(c, at, l.Z)
				at, from, key.below = corner, nowhere, nil
				z = math.Min(l.Z+aside, j.Setup.Bed[2])
				key.height = -l.Height // and it comes down from there
			}
		}
		k, ok := have[key]
		if !ok || i == 0 {
			k = known{j.layerTime(i, at, from, z), 1}
			if k.time < j.Setup.Material.Least && len(l.Paths) > 0 {
				k.time, k.slow = j.slowed(i, at, from, z)
			}
			if i > 0 {
				have[key] = k
			}
		}
		out[i] += k.time
		j.slow[i] = k.slow
	}
	if n := len(out); n > 0 {
		c := clock{z: j.Laid[n-1].Z}
		c.motion.at = j.last(n - 1)
		j.ended(&c)
		out[n-1] += c.time + c.motion.Stop()
	}
	return out
}

// last returns where the nozzle is at the end of a layer.
func (j *Job) last(layer int) [2]float64 {
	paths, at := j.Laid[layer].Paths, j.Places[len(j.Places)-1]
	if len(paths) == 0 {
		return [2]float64{}
	}
	q := paths[len(paths)-1].end()
	return at.Put([2]float64{float64(q[0]), float64(q[1])})
}

// away returns how long it takes to go beside the print.
func (j *Job) away(c Change, at [2]float64, z float64) float64 {
	k := clock{z: z}
	k.motion.at = at
	j.changed(&k, c, z)
	return k.time + k.motion.Stop()
}

// slowed finds by how much a layer is to be slower so that it takes as long as it should, as far as that goes.
func (j *Job) slowed(layer int, at, from [2]float64, z float64) (time, slow float64) {
	lo, hi := 0.0, 1.0
	for range 16 { // to a ten-thousandth
		mid := (lo + hi) / 2
		if j.slow[layer] = mid; j.layerTime(layer, at, from, z) < j.Setup.Material.Least {
			hi = mid
		} else {
			lo = mid
		}
	}
	j.slow[layer] = lo
	return j.layerTime(layer, at, from, z), lo
}

// layerTime returns how long a layer takes with the nozzle at a place and a height before. from is the same place, or nowhere.
func (j *Job) layerTime(layer int, at, from [2]float64, z float64) float64 {
	c := clock{z: z}
	c.motion.at = at
	j.layer(&c, layer, from)
	return c.time + c.motion.Stop()
}
