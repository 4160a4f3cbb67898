package ps

// valueOps are the operators on arrays, strings and their parts.
var valueOps = map[string]op{
	"[":            func(m *machine) error { return m.push(object{kind: kMark}) },
	"]":            opArrayEnd,
	"<<":           func(m *machine) error { return m.push(object{kind: kMark}) },
	">>":           opDictEnd,
	"array":        opArray,
	"string":       opString,
	"dict":         opDict,
	"length":       opLength,
	"maxlength":    func(m *machine) error { _, err := m.pop(); return first(err, m.push(integer(1000))) },
	"get":          opGet,
	"put":          opPut,
	"getinterval":  opGetInterval,
	"putinterval":  opPutInterval,
	"aload":        opAload,
	"astore":       opAstore,
	"anchorsearch": func(m *machine) error { return m.search(true) },
	"search":       func(m *machine) error { return m.search(false) },
	"token":        opToken,
}

func opArrayEnd(m *machine) error {
	v, err := m.toMark()
	if err != nil {
		return err
	}
	return m.push(object{kind: kArray, ref: &array{v}})
}

func opDictEnd(m *machine) error {
	v, err := m.toMark()
	if err != nil {
		return err
	}
	d := newDict()
	for i := 0; i+1 < len(v); i += 2 {
		d.put(key(v[i]), v[i+1])
	}
	return m.push(object{kind: kDict, ref: d})
}

func opArray(m *machine) error {
	n, err := m.size()
	if err != nil {
		return err
	}
	return m.push(object{kind: kArray, ref: &array{make([]object, n)}})
}

func opString(m *machine) error {
	n, err := m.size()
	if err != nil {
		return err
	}
	return m.push(object{kind: kString, ref: &str{make([]byte, n)}})
}

func opDict(m *machine) error {
	_, err := m.intArg()
	return first(err, m.push(object{kind: kDict, ref: newDict()}))
}

func opAload(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	a, ok := o.ref.(*array)
	if !ok {
		return m.err("typecheck")
	}
	for _, e := range a.v {
		if err := m.push(e); err != nil {
			return err
		}
	}
	return m.push(o)
}

func opAstore(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	a, ok := o.ref.(*array)
	if !ok || len(m.stack) < len(a.v) {
		return m.err("stackunderflow")
	}
	copy(a.v, m.stack[len(m.stack)-len(a.v):])
	m.stack = m.stack[:len(m.stack)-len(a.v)]
	return m.push(o)
}
