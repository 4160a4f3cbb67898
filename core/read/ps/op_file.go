package ps

// fileOps are the operators on files.
var fileOps = map[string]op{
	"currentfile":     opCurrentfile,
	"file":            func(m *machine) error { return m.err("undefinedfilename") },
	"closefile":       opClosefile,
	"flushfile":       opFlushfile,
	"resetfile":       func(m *machine) error { _, err := m.pop(); return err },
	"status":          func(m *machine) error { _, err := m.pop(); return first(err, m.push(boolean(true))) },
	"bytesavailable":  opBytesavailable,
	"fileposition":    opFileposition,
	"setfileposition": opSetfileposition,
	"filter":          opFilter,
	"readstring":      func(m *machine) error { return m.readString(false) },
	"readhexstring":   func(m *machine) error { return m.readString(true) },
	"readline":        opReadline,
	"read":            opRead,
	"eexec":           opEexec,
}

func opCurrentfile(m *machine) error {
	if m.src == nil {
		return m.push(object{kind: kFile, ref: &scanner{}})
	}
	return m.push(object{kind: kFile, ref: m.src})
}

func opClosefile(m *machine) error {
	o, err := m.pop()
	if s, ok := o.ref.(*scanner); ok && (s.sealed || s != m.src) {
		s.i = len(s.b)
	}
	return err
}

func opFlushfile(m *machine) error {
	s, err := m.fileArg()
	if err == nil && s != m.src {
		s.i = len(s.b)
	}
	return err
}

func opBytesavailable(m *machine) error {
	s, err := m.fileArg()
	if err != nil {
		return err
	}
	return m.push(integer(len(s.b) - s.i))
}

func opFileposition(m *machine) error {
	s, err := m.fileArg()
	if err != nil {
		return err
	}
	return m.push(integer(s.i))
}

func opSetfileposition(m *machine) error {
	n, err := m.intArg()
	if err != nil {
		return err
	}
	s, err := m.fileArg()
	if err != nil {
		return err
	}
	// Going back in the program itself would run it for ever.
	if s == m.src && n < s.i || n < 0 || n > len(s.b) {
		return m.err("ioerror")
	}
	s.i = n
	return nil
}

func opRead(m *machine) error {
	s, err := m.fileArg()
	if err != nil {
		return err
	}
	if s.i >= len(s.b) {
		return m.push(boolean(false))
	}
	s.i++
	m.push(integer(int(s.b[s.i-1])))
	return m.push(boolean(true))
}
