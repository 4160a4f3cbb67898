package ps

// stackOps are the operators on the operand stack (PLRM 8.1).
var stackOps = map[string]op{
	"pop":         func(m *machine) error { _, err := m.pop(); return err },
	"exch":        func(m *machine) error { return m.roll(2, 1) },
	"dup":         func(m *machine) error { return m.copyTop(0) },
	"index":       opIndex,
	"roll":        opRoll,
	"clear":       func(m *machine) error { m.stack = m.stack[:0]; return nil },
	"count":       func(m *machine) error { return m.push(integer(len(m.stack))) },
	"mark":        func(m *machine) error { return m.push(object{kind: kMark}) },
	"cleartomark": opCleartomark,
	"counttomark": opCounttomark,
	"copy":        opCopy,
}

func opIndex(m *machine) error {
	n, err := m.intArg()
	if err != nil {
		return err
	}
	return m.copyTop(n)
}

func opRoll(m *machine) error {
	a, err := m.nums(2)
	if err != nil {
		return err
	}
	return m.roll(int(a[0]), int(a[1]))
}

func opCleartomark(m *machine) error {
	_, err := m.toMark()
	return err
}

func opCounttomark(m *machine) error {
	for i := len(m.stack) - 1; i >= 0; i-- {
		if m.stack[i].kind == kMark {
			return m.push(integer(len(m.stack) - 1 - i))
		}
	}
	return m.err("unmatchedmark")
}
