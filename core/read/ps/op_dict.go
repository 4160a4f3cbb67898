package ps

import (
	"bildhauer/core/read/budget"
)

// dictOps are the operators on dictionaries.
var dictOps = map[string]op{
	"def":            opDef,
	"store":          opStore,
	"load":           opLoad,
	"begin":          opBegin,
	"end":            opEnd,
	"known":          opKnown,
	"where":          opWhere,
	"undef":          opUndef,
	"currentdict":    func(m *machine) error { return m.push(object{kind: kDict, ref: m.dicts[len(m.dicts)-1]}) },
	"countdictstack": func(m *machine) error { return m.push(integer(len(m.dicts))) },
	"cleardictstack": func(m *machine) error { m.dicts = m.dicts[:2]; return nil },
	"dictstack":      opDictstack,
	"bind":           opBind,
}

func opDef(m *machine) error {
	k, v, err := m.pop2()
	if err != nil {
		return err
	}
	m.budget.Spend(budget.Memory, 1)
	m.dicts[len(m.dicts)-1].put(key(k), v)
	return nil
}

func opStore(m *machine) error {
	k, v, err := m.pop2()
	if err != nil {
		return err
	}
	for i := len(m.dicts) - 1; i >= 0; i-- {
		if _, ok := m.dicts[i].m[key(k)]; ok {
			m.dicts[i].put(key(k), v)
			return nil
		}
	}
	m.dicts[len(m.dicts)-1].put(key(k), v)
	return nil
}

func opLoad(m *machine) error {
	k, err := m.pop()
	if err != nil {
		return err
	}
	v, ok := m.lookup(key(k))
	if !ok {
		m.op = key(k) + " load"
		return m.err("undefined")
	}
	return m.push(v)
}

func opBegin(m *machine) error {
	d, err := popRef[*dict](m)
	if err != nil {
		return err
	}
	if len(m.dicts) > maxDicts {
		return m.err("dictstackoverflow")
	}
	m.dicts = append(m.dicts, d)
	return nil
}

func opEnd(m *machine) error {
	if len(m.dicts) <= 2 {
		return m.err("dictstackunderflow")
	}
	m.dicts = m.dicts[:len(m.dicts)-1]
	return nil
}

func opKnown(m *machine) error {
	o, k, err := m.pop2()
	if err != nil {
		return err
	}
	d, ok := o.ref.(*dict)
	if !ok {
		return m.err("typecheck")
	}
	_, has := d.m[key(k)]
	return m.push(boolean(has))
}

func opWhere(m *machine) error {
	k, err := m.pop()
	if err != nil {
		return err
	}
	for i := len(m.dicts) - 1; i >= 0; i-- {
		if _, ok := m.dicts[i].m[key(k)]; ok {
			m.push(object{kind: kDict, ref: m.dicts[i]})
			return m.push(boolean(true))
		}
	}
	return m.push(boolean(false))
}

func opUndef(m *machine) error {
	k, err := m.pop()
	if err != nil {
		return err
	}
	o, err := m.pop()
	if d, ok := o.ref.(*dict); ok {
		delete(d.m, key(k))
	}
	return err
}

func opDictstack(m *machine) error {
	o, err := m.pop()
	if a, ok := o.ref.(*array); ok {
		n := min(len(a.v), len(m.dicts))
		for i := range n {
			a.v[i] = object{kind: kDict, ref: m.dicts[i]}
		}
		return m.push(object{kind: kArray, ref: &array{a.v[:n]}})
	}
	return err
}

func opBind(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	if a, ok := o.ref.(*array); ok && o.exec {
		m.bind(a, 0)
	}
	return m.push(o)
}
