package printer

import (
	"crypto/rand"
	"fmt"
	"math"
	"slices"
	"sync"
	"time"

	"bildhauer/core/print"
)

// State is what a job is at.
type State string

// The states. The last three are ends.
const (
	Heating   State = "heating"
	Printing  State = "printing"
	Paused    State = "paused"
	Waiting   State = "waiting" // for a person: filament is to be changed or has run out
	Done      State = "done"
	Cancelled State = "cancelled"
	Failed    State = "failed"
)

// Ended reports whether nothing more will happen.
func (s State) Ended() bool { return s == Done || s == Cancelled || s == Failed }

// Job is what the device tells about a job.
type Job struct {
	Key      string  `json:"key"` // that its sender gave it
	Name     string  `json:"name"`
	State    State   `json:"state"`
	Reason   string  `json:"reason"` // of waiting or of a failure
	Layer    int     `json:"layer"`  // at work, from 1; 0 before
	Layers   int     `json:"layers"`
	Progress float64 `json:"progress"` // share of the time
	Left     float64 `json:"left"`     // s of real printing
}

// Heat is a temperature, degrees Celsius.
type Heat struct {
	Now  float64 `json:"now"`
	Want float64 `json:"want"`
}

// Status is what the device tells about itself.
type Status struct {
	Name   string     `json:"name"`
	Boot   string     `json:"boot"` // another one each time it is switched on
	Bed    [3]float64 `json:"bed"`  // mm
	Speed  float64    `json:"speed"`
	Nozzle Heat       `json:"nozzle"`
	Plate  Heat       `json:"plate"`
	Job    *Job       `json:"job"` // the last one; nil before the first
}

// The troubles that can be asked for.
const (
	NoFilament = "filament"   // runs out at the layer
	ColdNozzle = "cold"       // at the layer the nozzle does not keep its heat
	LostLine   = "connection" // no request is answered for some seconds
	WrongBed   = "bed"        // the next job meets a smaller bed than the device says
)

// Trouble is one that is asked for.
type Trouble struct {
	Kind    string  `json:"kind"`
	Layer   int     `json:"layer"`   // of NoFilament and ColdNozzle
	Seconds float64 `json:"seconds"` // of LostLine
}

const room = print.Room

// Device is a simulated printer. Its methods may be called from anywhere.
type Device struct {
	mu       sync.Mutex
	status   Status
	jobs     map[string]*Job // by key; what was cancelled before it came is in it, too
	order    []string        // of the keys
	at       *run            // the job at work
	troubles []Trouble
	deaf     time.Time // until then nothing is answered
	onEnd    func(Job)
}

// run is a job at work.
type run struct {
	job     *Job
	program *program
	time    float64 // s of printing that are done
	total   float64
	passed  int // changes of filament that are done
}

// New returns a device with a bed (mm) that prints so many times faster than a real one.
func New(name string, bed [3]float64, speed float64) *Device {
	return &Device{
		status: Status{Name: name, Boot: rand.Text(), Bed: bed, Speed: speed, Nozzle: Heat{room, room}, Plate: Heat{room, room}}, jobs: map[string]*Job{},
	}
}

// OnEnd has f called whenever a job ends, before anything else happens to the device.
func (d *Device) OnEnd(f func(Job)) {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.onEnd = f
}

// Status tells how the device is.
func (d *Device) Status() Status {
	d.mu.Lock()
	defer d.mu.Unlock()
	s := d.status
	if n := len(d.order); n > 0 {
		j := *d.jobs[d.order[n-1]]
		s.Job = &j
	}
	return s
}

// Job tells about a job by its key.
func (d *Device) Job(key string) (Job, bool) {
	d.mu.Lock()
	defer d.mu.Unlock()
	j, ok := d.jobs[key]
	if !ok {
		return Job{}, false
	}
	return *j, true
}

// Refused is why a job was not taken.
type Refused struct {
	Busy bool // it may be sent again later
	Text string
}

func (r *Refused) Error() string { return r.Text }

// mostKeys bounds how many jobs are remembered.
const mostKeys = 10_000

// take begins a job. One whose key is known is not begun again.
func (d *Device) take(key string, p *program) (Job, error) {
	d.mu.Lock()
	defer d.mu.Unlock()
	if j, ok := d.jobs[key]; ok {
		return *j, nil
	}
	if d.at != nil {
		return Job{}, &Refused{Busy: true, Text: fmt.Sprintf("the printer is busy with %q", d.at.job.Name)}
	}
	if err := d.fits(p); err != nil {
		return Job{}, err
	}
	j := &Job{Key: key, Name: p.name, State: Heating, Layers: len(p.layers)}
	r := &run{job: j, program: p}
	for _, t := range p.layers {
		r.total += t
	}
	d.at = r
	d.remember(j)
	d.status.Nozzle.Want, d.status.Plate.Want = p.nozzle, p.plate
	j.Left = d.heating() + r.total
	return *j, nil
}

func (d *Device) remember(j *Job) {
	d.jobs[j.Key] = j
	d.order = append(d.order, j.Key)
	if len(d.order) > mostKeys {
		delete(d.jobs, d.order[0])
		d.order = d.order[1:]
	}
}

// fits reports why a program does not fit the bed.
func (d *Device) fits(p *program) error {
	bed := d.status.Bed
	if i := d.asked(WrongBed, math.MaxInt); i >= 0 {
		d.troubles = slices.Delete(d.troubles, i, i+1)
		bed = [3]float64{120, 120, 120}
	}
	if p.bed != [3]float64{} && p.bed != bed {
		return &Refused{Text: fmt.Sprintf("it was laid out for a bed of %g by %g by %g mm; this one has %g by %g by %g mm",
			p.bed[0], p.bed[1], p.bed[2], bed[0], bed[1], bed[2])}
	}
	for k, axis := range []string{"x", "y", "z"} {
		if p.lo[k] < 0 || p.hi[k] > bed[k] {
			return &Refused{Text: fmt.Sprintf("it would leave the bed along %s: from %.1f to %.1f mm of %g", axis, p.lo[k], p.hi[k], bed[k])}
		}
	}
	return nil
}

// asked returns the number of a trouble that is due in a layer, or -1.
func (d *Device) asked(kind string, layer int) int {
	return slices.IndexFunc(d.troubles, func(t Trouble) bool { return t.Kind == kind && layer >= t.Layer })
}

// Act pauses, resumes or cancels a job. One that is not known is cancelled before it comes.
func (d *Device) Act(key, act string) (Job, error) {
	d.mu.Lock()
	defer d.mu.Unlock()
	j, ok := d.jobs[key]
	if !ok && act == "cancel" {
		j = &Job{Key: key, State: Cancelled, Reason: "cancelled before it came"}
		d.remember(j)
		return *j, nil
	}
	if !ok {
		return Job{}, &Refused{Text: "there is no such job"}
	}
	switch {
	case j.State.Ended(): // nothing to do any more
	case act == "cancel":
		d.end(Cancelled, "")
	case act == "pause" && (j.State == Printing || j.State == Heating):
		j.State = Paused
	case act == "resume" && (j.State == Paused || j.State == Waiting):
		j.State, j.Reason = Printing, ""
	}
	return *j, nil
}

// Ask asks for a trouble.
func (d *Device) Ask(t Trouble) error {
	d.mu.Lock()
	defer d.mu.Unlock()
	switch t.Kind {
	case NoFilament, ColdNozzle, WrongBed:
		d.troubles = append(d.troubles, t)
	case LostLine:
		d.deaf = time.Now().Add(time.Duration(t.Seconds * float64(time.Second)))
	default:
		return &Refused{Text: "troubles are filament, cold, connection and bed"}
	}
	return nil
}

// Deaf reports whether requests are not answered now.
func (d *Device) Deaf() bool {
	d.mu.Lock()
	defer d.mu.Unlock()
	return time.Now().Before(d.deaf)
}

// end ends the job at work.
func (d *Device) end(s State, reason string) {
	j := d.at.job
	j.State, j.Reason = s, reason
	if s == Done {
		j.Progress, j.Left, j.Layer = 1, 0, j.Layers
	}
	d.at = nil
	d.status.Nozzle.Want, d.status.Plate.Want = room, room
	if d.onEnd != nil {
		d.onEnd(*j)
	}
}

// Pass lets real time pass.
func (d *Device) Pass(real time.Duration) {
	d.mu.Lock()
	defer d.mu.Unlock()
	left := real.Seconds() * d.status.Speed
	heated := warm(&d.status.Nozzle, print.NozzleHeats, left)
	heated = math.Max(heated, warm(&d.status.Plate, print.BedHeats, left))
	r := d.at
	if r == nil {
		return
	}
	if r.job.State == Heating {
		r.job.Left = d.heating() + r.total
	}
	if r.job.State == Heating && heated < left {
		r.job.State, r.job.Layer = Printing, 1
		left -= heated
	}
	if r.job.State == Printing {
		d.print(r, left)
	}
}

// heating returns how long it takes until nozzle and plate are as warm as they should be, s.
func (d *Device) heating() float64 {
	far := func(h Heat) float64 { return math.Abs(h.Want - h.Now) }
	return math.Max(far(d.status.Nozzle)/print.NozzleHeats, far(d.status.Plate)/print.BedHeats)
}

// warm brings a temperature towards what is wanted, by so many degrees a second, and returns
// how many of the seconds it took.
func warm(h *Heat, rate, seconds float64) float64 {
	far := math.Abs(h.Want - h.Now)
	if far <= rate*seconds {
		h.Now = h.Want
		return far / rate
	}
	h.Now += math.Copysign(rate*seconds, h.Want-h.Now)
	return seconds
}

// print goes on for some seconds, layer by layer.
func (d *Device) print(r *run, left float64) {
	begun := 0.0
	for i, t := range r.program.layers {
		end := begun + t
		if r.time >= end && i+1 < len(r.program.layers) {
			begun = end
			continue
		}
		r.job.Layer = i + 1
		if d.troubled(r, i) {
			return
		}
		step := math.Min(left, end-r.time)
		r.time += step
		left -= step
		if left <= 0 {
			break
		}
		begun = end
	}
	r.job.Progress, r.job.Left = r.time/math.Max(r.total, 1e-9), r.total-r.time
	if left > 0 {
		d.end(Done, "")
	}
}

// troubled reports whether something stops a job in a layer, from 0.
func (d *Device) troubled(r *run, layer int) bool {
	if r.passed < len(r.program.changes) && r.program.changes[r.passed] <= layer {
		r.passed++
		r.job.State, r.job.Reason = Waiting, "the filament is to be changed"
		return true
	}
	if i := d.asked(NoFilament, layer+1); i >= 0 {
		d.troubles = slices.Delete(d.troubles, i, i+1)
		r.job.State, r.job.Reason = Waiting, "the filament has run out"
		return true
	}
	if i := d.asked(ColdNozzle, layer+1); i >= 0 {
		d.troubles = slices.Delete(d.troubles, i, i+1)
		d.end(Failed, fmt.Sprintf("the nozzle has %.0f °C instead of %.0f in layer %d", r.program.nozzle-45, r.program.nozzle, layer+1))
		return true
	}
	return false
}
