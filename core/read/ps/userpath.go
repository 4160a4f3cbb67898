package ps

import "strings"

// userPathOps are the operators that codes in an encoded user path stand for
// (PLRM 4.6.2), with how many numbers each takes.
var userPathOps = []struct {
	name string
	n    int
}{{"setbbox", 4}, {"moveto", 2}, {"rmoveto", 2}, {"lineto", 2}, {"rlineto", 2}, {"curveto", 6}, {"rcurveto", 6}, {"arc", 5}, {"arcn", 5}, {"arct", 5}, {"closepath", 0}, {"ucache", 0}}

// uappend adds the user path on the stack to the current path.
func (m *machine) uappend() error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	a, ok := o.ref.(*array)
	if !ok {
		return m.err("typecheck")
	}
	if len(a.v) == 2 && a.v[1].kind == kString {
		nums, ok := m.numArray(a.v[0])
		if s, isText := a.v[0].ref.(*str); isText {
			nums, ok = numberString(s.b)
		}
		if !ok {
			return m.err("typecheck")
		}
		repeat := 1
		for _, c := range a.v[1].ref.(*str).b {
			if c > 32 {
				repeat = int(c) - 32
				continue
			}
			if int(c) >= len(userPathOps) {
				return m.err("rangecheck")
			}
			op := userPathOps[c]
			for range repeat {
				if len(nums) < op.n {
					return m.err("rangecheck")
				}
				for _, v := range nums[:op.n] {
					m.push(realNum(v))
				}
				nums = nums[op.n:]
				if err := graphics[op.name](m); err != nil {
					return err
				}
			}
			repeat = 1
		}
		return nil
	}
	// A procedure of these operators, whatever the program calls so itself.
	for _, e := range a.v {
		if e.kind == kName && e.exec {
			f := graphics[e.s]
			if f == nil {
				return m.err("typecheck")
			}
			if err := f(m); err != nil {
				return err
			}
			continue
		}
		if err := m.push(e); err != nil {
			return err
		}
	}
	return nil
}

func init() {
	// user runs a painting operator on a user path alone.
	user := func(paint func(m *machine) error) op {
		return func(m *machine) error {
			old := *m.gs
			m.gs.path, m.gs.has, m.gs.open = nil, false, false
			err := m.uappend()
			if err == nil {
				err = paint(m)
			}
			m.gs.path, m.gs.at, m.gs.start, m.gs.has, m.gs.open = old.path, old.at, old.start, old.has, old.open
			return err
		}
	}
	graphics["ufill"] = user(func(m *machine) error { return m.fill(false) })
	graphics["ueofill"] = user(func(m *machine) error { return m.fill(true) })
	graphics["ustroke"] = user((*machine).stroke)
	graphics["uappend"] = (*machine).uappend
	graphics["ucache"] = func(*machine) error { return nil }
	graphics["setbbox"] = func(m *machine) error { _, err := m.nums(4); return err }

	drop := func(n, results int) op { // takes n operands, gives zeros
		return func(m *machine) error {
			for range n {
				if _, err := m.pop(); err != nil {
					return err
				}
			}
			for range results {
				m.push(integer(0))
			}
			return nil
		}
	}
	for _, n := range strings.Fields("initviewclip viewclip eoviewclip echo") {
		language[n] = drop(0, 0)
	}
	for _, n := range strings.Fields("undefineuserobject setvmthreshold vmreclaim setobjectformat settrapparams settrapzone setoverprintmode printobject deletefile setshared") {
		language[n] = drop(1, 0)
	}
	for _, n := range strings.Fields("write writestring writehexstring undefineresource setdevparams defineuserobject writeobject") {
		language[n] = drop(2, 0)
	}
	language["countexecstack"] = drop(0, 1)
	language["currentobjectformat"] = drop(0, 1)
	language["currentoverprintmode"] = drop(0, 1)
	language["cachestatus"] = drop(0, 7)
	language["ucachestatus"] = drop(0, 5)
	language["execstack"] = func(*machine) error { return nil }
	language["stack"] = language["pstack"]
	language["prompt"] = drop(0, 0)
	language["startjob"] = func(m *machine) error { return first(drop(2, 0)(m), m.push(boolean(true))) }
	language["exitserver"] = drop(1, 0)
	language["currentshared"] = func(m *machine) error { return m.push(boolean(false)) }
	language["currenttrapparams"] = func(m *machine) error { return m.push(object{kind: kDict, ref: newDict()}) }
	language["currentdevparams"] = func(m *machine) error {
		_, err := m.pop()
		return first(err, m.push(object{kind: kDict, ref: newDict()}))
	}
	language["findencoding"] = func(m *machine) error {
		k, err := m.pop()
		if err != nil {
			return err
		}
		o, ok := m.lookup(key(k))
		if !ok {
			return m.err("undefined")
		}
		return m.push(o)
	}
	language["setucacheparams"] = func(m *machine) error { _, err := m.toMark(); return err }
	language["composefont"] = func(m *machine) error { return m.err("invalidfont") }
}
