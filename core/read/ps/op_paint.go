package ps

// paintOps are the operators that paint and clip.
var paintOps = map[string]op{
	"fill":        func(m *machine) error { return first(m.fill(false), opNewpath(m)) },
	"eofill":      func(m *machine) error { return first(m.fill(true), opNewpath(m)) },
	"stroke":      func(m *machine) error { return first(m.stroke(), opNewpath(m)) },
	"clip":        func(m *machine) error { return m.clip(false) },
	"eoclip":      func(m *machine) error { return m.clip(true) },
	"clipsave":    opClipsave,
	"cliprestore": opCliprestore,
	"initclip":    func(m *machine) error { m.gs.clips = nil; return nil },
	"erasepage":   func(*machine) error { return nil },
	"showpage":    opShowpage,
	"copypage":    opShowpage,
}

func opClipsave(m *machine) error {
	if len(m.clipStack) > 5000 {
		return m.err("limitcheck")
	}
	m.clipStack = append(m.clipStack, m.gs.clips)
	return nil
}

func opCliprestore(m *machine) error {
	if n := len(m.clipStack); n > 0 {
		m.gs.clips, m.clipStack = m.clipStack[n-1], m.clipStack[:n-1]
	}
	return nil
}
