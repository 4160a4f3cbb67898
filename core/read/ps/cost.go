package ps

import "bildhauer/core/read/budget"

// costs tells how much work operators do beyond one step where that depends on their operands:
// the number of values, characters or points that they go through.
var costs = map[string]func(m *machine) int{
	"roll":           func(m *machine) int { return m.wholeAt(1) * 4 },
	"copy":           func(m *machine) int { return max(m.wholeAt(0), m.sizeAt(1)*8) },
	"aload":          func(m *machine) int { return m.sizeAt(0) },
	"astore":         func(m *machine) int { return m.sizeAt(0) },
	"putinterval":    func(m *machine) int { return m.sizeAt(0) },
	"packedarray":    func(m *machine) int { return m.wholeAt(0) },
	"string":         func(m *machine) int { return m.wholeAt(0) / 8 },
	"array":          func(m *machine) int { return m.wholeAt(0) },
	"dict":           func(m *machine) int { return m.wholeAt(0) },
	"search":         func(m *machine) int { return m.sizeAt(1) },
	"anchorsearch":   func(m *machine) int { return m.sizeAt(0) },
	"token":          func(m *machine) int { return m.sizeAt(0) * 4 },
	"eq":             func(m *machine) int { return m.sizeAt(0) },
	"ne":             func(m *machine) int { return m.sizeAt(0) },
	"cvi":            func(m *machine) int { return m.sizeAt(0) * 4 },
	"cvr":            func(m *machine) int { return m.sizeAt(0) * 4 },
	"cvn":            func(m *machine) int { return m.sizeAt(0) },
	"setdash":        func(m *machine) int { return m.sizeAt(1) },
	"show":           func(m *machine) int { return m.sizeAt(0) * letterCost },
	"stringwidth":    func(m *machine) int { return m.sizeAt(0) * letterCost },
	"charpath":       func(m *machine) int { return m.sizeAt(1) * letterCost },
	"definefont":     func(m *machine) int { return m.sizeAt(0) * 16 },
	"findfont":       func(*machine) int { return 64 },
	"shfill":         func(*machine) int { return shadingCost },
	"readstring":     func(m *machine) int { return m.sizeAt(0) },
	"readhexstring":  func(m *machine) int { return m.sizeAt(0) },
	"makepattern":    func(m *machine) int { return m.sizeAt(1) },
	"fill":           (*machine).pathCost,
	"eofill":         (*machine).pathCost,
	"stroke":         (*machine).pathCost,
	"clip":           (*machine).pathCost,
	"eoclip":         (*machine).pathCost,
	"strokepath":     (*machine).pathCost,
	"flattenpath":    (*machine).pathCost,
	"reversepath":    (*machine).pathCost,
	"pathbbox":       (*machine).pathCost,
	"pathforall":     (*machine).pathCost,
	"setbbox":        (*machine).pathCost,
	"restore":        func(m *machine) int { return len(m.saved) },
	"grestoreall":    func(m *machine) int { return len(m.saved) },
	"ustroke":        func(m *machine) int { return m.sizeAt(0) * 16 },
	"ufill":          func(m *machine) int { return m.sizeAt(0) * 16 },
	"cleartomark":    func(m *machine) int { return len(m.stack) },
	"counttomark":    func(m *machine) int { return len(m.stack) },
	"clear":          func(m *machine) int { return len(m.stack) },
	"]":              func(m *machine) int { return len(m.stack) },
	">>":             func(m *machine) int { return len(m.stack) },
	"filter":         func(*machine) int { return 256 },
	"resourceforall": func(*machine) int { return 256 },
}

// perStep is how many values are gone through while one step of the budget passes; a letter and
// a shading are some thousands of them.
const (
	perStep     = 16
	letterCost  = 160
	shadingCost = 4000
)

// charged returns an operator that pays for what its operands cost.
func charged(name string, f op) op {
	cost := costs[name]
	if cost == nil {
		return f
	}
	return func(m *machine) error {
		m.budget.Spend(budget.Steps, cost(m)/perStep)
		return f(m)
	}
}

// operand returns the operand k below the top of the stack.
func (m *machine) operand(k int) object {
	if n := len(m.stack) - 1 - k; n >= 0 {
		return m.stack[n]
	}
	return object{}
}

// wholeAt returns an operand that is a whole number, 0 for others and for less.
func (m *machine) wholeAt(k int) int {
	if o := m.operand(k); o.kind == kInt {
		return min(max(o.n, 0), 1<<17) // more than that no operator takes
	}
	return 0
}

// sizeAt returns how many values or characters an operand holds.
func (m *machine) sizeAt(k int) int {
	switch v := m.operand(k).ref.(type) {
	case *array:
		return len(v.v)
	case *str:
		return len(v.b)
	case *dict:
		return 4 * len(v.keys)
	}
	return 0
}

// pathCost returns what going through the path costs.
func (m *machine) pathCost() int {
	n := 0
	for i := range m.gs.path {
		n += 12 * (len(m.gs.path[i].Segs) + 1)
	}
	return n
}
