package ps

import (
	"bildhauer/core/read/budget"
)

// systemOps are the operators on the memory, the system and resources; most answer as an ordinary printer would.
var systemOps = map[string]op{
	"save":           opSave,
	"restore":        opRestore,
	"readonly":       func(*machine) error { return nil },
	"executeonly":    func(*machine) error { return nil },
	"noaccess":       func(*machine) error { return nil },
	"rcheck":         func(m *machine) error { _, err := m.pop(); return first(err, m.push(boolean(true))) },
	"wcheck":         func(m *machine) error { _, err := m.pop(); return first(err, m.push(boolean(true))) },
	"realtime":       func(m *machine) error { return m.push(integer(0)) },
	"usertime":       func(m *machine) error { return m.push(integer(0)) },
	"vmstatus":       func(m *machine) error { m.push(integer(0)); m.push(integer(0)); return m.push(integer(1 << 30)) },
	"print":          func(m *machine) error { _, err := m.pop(); return err },
	"=":              func(m *machine) error { _, err := m.pop(); return err },
	"==":             func(m *machine) error { _, err := m.pop(); return err },
	"flush":          func(*machine) error { return nil },
	"pstack":         func(*machine) error { return nil },
	"handleerror":    func(*machine) error { return nil },
	"setpacking":     func(m *machine) error { _, err := m.pop(); return err },
	"currentpacking": func(m *machine) error { return m.push(boolean(false)) },
	"setglobal":      func(m *machine) error { _, err := m.pop(); return err },
	"currentglobal":  func(m *machine) error { return m.push(boolean(false)) },
	"gcheck":         func(m *machine) error { _, err := m.pop(); return first(err, m.push(boolean(false))) },
	"packedarray":    opPackedarray,
	"internaldict":   opInternaldict,
	"findresource":   opFindresource,
	"defineresource": opDefineresource,
	"resourcestatus": opResourcestatus,
	"resourceforall": opResourceforall,
}

func opSave(m *machine) error {
	m.budget.Spend(budget.Memory, len(m.gs.path)+1)
	if len(m.saved) > maxSaved {
		return m.err("limitcheck")
	}
	m.saved = append(m.saved, m.gs.clone())
	return m.push(object{kind: kSave, n: len(m.saved) - 1})
}

func opRestore(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	if o.kind != kSave {
		return m.err("typecheck")
	}
	if o.n < len(m.saved) {
		m.gs = m.saved[o.n]
		m.saved = m.saved[:o.n]
	}
	return nil
}

func opPackedarray(m *machine) error {
	n, err := m.intArg()
	if err != nil {
		return err
	}
	if n < 0 || n > len(m.stack) {
		return m.err("rangecheck")
	}
	v := append([]object(nil), m.stack[len(m.stack)-n:]...)
	m.stack = m.stack[:len(m.stack)-n]
	return m.push(object{kind: kArray, ref: &array{v}})
}

func opInternaldict(m *machine) error {
	_, err := m.pop()
	return first(err, m.push(object{kind: kDict, ref: newDict()}))
}

func opFindresource(m *machine) error {
	k, c, err := m.pop2()
	if err != nil {
		return err
	}
	if key(c) == "Font" {
		m.push(k)
		return opFindFont(m)
	}
	if key(c) == "Category" {
		return m.push(object{kind: kDict, ref: newDict()})
	}
	if d, ok := m.resources[key(c)+"/"+key(k)]; ok {
		return m.push(d)
	}
	if key(c) == "Encoding" {
		if o, ok := m.lookup(key(k)); ok {
			return m.push(o)
		}
	}
	m.op = key(k) + " " + key(c) + " findresource"
	return m.err("undefinedresource")
}

func opDefineresource(m *machine) error {
	v, c, err := m.pop2()
	if err != nil {
		return err
	}
	k, err := m.pop()
	if err != nil {
		return err
	}
	m.resources[key(c)+"/"+key(k)] = v
	return m.push(v)
}

func opResourcestatus(m *machine) error {
	k, c, err := m.pop2()
	if err != nil {
		return err
	}
	if _, ok := m.resources[key(c)+"/"+key(k)]; ok {
		m.push(integer(0))
		m.push(integer(0))
		return m.push(boolean(true))
	}
	return m.push(boolean(false))
}

func opResourceforall(m *machine) error {
	for range 4 {
		if _, err := m.pop(); err != nil {
			return err
		}
	}
	return nil
}
