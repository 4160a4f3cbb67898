package ps

// userPathOps are the operators that codes in an encoded user path stand for
// (PLRM 4.6.2), with how many numbers each takes.
var userPathOps = []struct {
	name string
	n    int
}{{"setbbox", 4}, {"moveto", 2}, {"rmoveto", 2}, {"lineto", 2}, {"rlineto", 2}, {"curveto", 6}, {"rcurveto", 6}, {"arc", 5}, {"arcn", 5}, {"arct", 5}, {"closepath", 0}, {"ucache", 0}}

// uappend adds the user path on the stack to the current path.
func (m *machine) uappend() error {
	a, err := popRef[*array](m)
	if err != nil {
		return err
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
				if err := pathOp(op.name)(m); err != nil {
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
			f := pathOp(e.s)
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

// pathOp returns the operator of a user path with a name, or nil.
func pathOp(name string) op {
	switch name {
	case "ucache":
		return ignore(0)
	case "setbbox":
		return ignore(4)
	}
	return pathOps[name]
}

// userPathTable are the operators on user paths (PLRM 4.6).
var userPathTable = map[string]op{
	"ufill":   onUserPath(func(m *machine) error { return m.fill(false) }),
	"ueofill": onUserPath(func(m *machine) error { return m.fill(true) }),
	"ustroke": onUserPath((*machine).stroke),
	"uappend": (*machine).uappend,
	"ucache":  ignore(0),
	"setbbox": ignore(4),
}

// onUserPath runs a painting operator on a user path alone.
func onUserPath(paint func(m *machine) error) op {
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
