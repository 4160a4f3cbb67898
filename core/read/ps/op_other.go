package ps

// otherOps are operators that artwork calls though they mean nothing to it: of
// viewers, trapping, servers and other programs. They take their operands and
// give zeros.
var otherOps = map[string]op{
	"initviewclip":         ignore(0),
	"viewclip":             ignore(0),
	"eoviewclip":           ignore(0),
	"echo":                 ignore(0),
	"prompt":               ignore(0),
	"undefineuserobject":   ignore(1),
	"setvmthreshold":       ignore(1),
	"vmreclaim":            ignore(1),
	"setobjectformat":      ignore(1),
	"settrapparams":        ignore(1),
	"settrapzone":          ignore(1),
	"setoverprintmode":     ignore(1),
	"printobject":          ignore(1),
	"deletefile":           ignore(1),
	"setshared":            ignore(1),
	"exitserver":           ignore(1),
	"write":                ignore(2),
	"writestring":          ignore(2),
	"writehexstring":       ignore(2),
	"undefineresource":     ignore(2),
	"setdevparams":         ignore(2),
	"defineuserobject":     ignore(2),
	"writeobject":          ignore(2),
	"countexecstack":       zeros(1),
	"currentobjectformat":  zeros(1),
	"currentoverprintmode": zeros(1),
	"cachestatus":          zeros(7),
	"ucachestatus":         zeros(5),
	"execstack":            ignore(0),
	"stack":                ignore(0),
	"startjob":             opStartjob,
	"currentshared":        func(m *machine) error { return m.push(boolean(false)) },
	"currenttrapparams":    func(m *machine) error { return m.push(object{kind: kDict, ref: newDict()}) },
	"currentdevparams":     opCurrentdevparams,
	"findencoding":         opFindencoding,
	"setucacheparams":      func(m *machine) error { _, err := m.toMark(); return err },
	"composefont":          func(m *machine) error { return m.err("invalidfont") },
}

// zeros gives n zeros.
func zeros(n int) op {
	return func(m *machine) error {
		for range n {
			if err := m.push(integer(0)); err != nil {
				return err
			}
		}
		return nil
	}
}

func opStartjob(m *machine) error {
	if err := ignore(2)(m); err != nil {
		return err
	}
	return m.push(boolean(true))
}

func opCurrentdevparams(m *machine) error {
	if err := ignore(1)(m); err != nil {
		return err
	}
	return m.push(object{kind: kDict, ref: newDict()})
}

func opFindencoding(m *machine) error {
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
