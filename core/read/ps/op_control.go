package ps

// controlOps are the operators of control.
var controlOps = map[string]op{
	"exec":    opExec,
	"if":      opIf,
	"ifelse":  opIfelse,
	"for":     opFor,
	"repeat":  opRepeat,
	"loop":    opLoop,
	"forall":  opForall,
	"exit":    func(*machine) error { return errExit },
	"stop":    func(*machine) error { return errStop },
	"quit":    func(*machine) error { return errQuit },
	"stopped": opStopped,
}

func opExec(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	return m.exec(o, false)
}

func opIf(m *machine) error {
	p, err := m.pop()
	if err != nil {
		return err
	}
	b, err := m.boolArg()
	if err != nil || !b {
		return err
	}
	return m.exec(p, false)
}

func opIfelse(m *machine) error {
	p, q, err := m.pop2()
	if err != nil {
		return err
	}
	b, err := m.boolArg()
	if err != nil {
		return err
	}
	if b {
		return m.exec(p, false)
	}
	return m.exec(q, false)
}

func opLoop(m *machine) error {
	p, err := m.proc()
	if err != nil {
		return err
	}
	return m.loop(func() (bool, error) { return true, m.call(p) })
}

func opStopped(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	err = m.exec(o, false) // dictionaries that it opened stay open
	if f, ok := err.(*fail); ok || err == errStop {
		if ok {
			m.lastErr = f.name
		}
		return m.push(boolean(true))
	}
	return first(err, m.push(boolean(false)))
}
