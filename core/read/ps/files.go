package ps

import (
	"bytes"
	"compress/lzw"
	"compress/zlib"
	"encoding/ascii85"
	"errors"
	"io"
)

func opToken(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	s := m.src
	if t, ok := o.ref.(*str); ok {
		s = &scanner{b: t.b}
	}
	if s == nil {
		return m.push(boolean(false))
	}
	t, ok := s.next()
	if ok && t.kind == kName && t.exec && t.s == "{" {
		if t, err = m.readProc(s, 0); err != nil {
			return err
		}
	}
	if !ok {
		return m.push(boolean(false))
	}
	if o.kind == kString {
		m.push(object{kind: kString, ref: &str{s.b[s.i:]}})
	}
	m.push(t)
	return m.push(boolean(true))
}

// readString fills a string from the program text.
func (m *machine) readString(hex bool) error {
	f, o, err := m.pop2()
	if err != nil {
		return err
	}
	s, ok := o.ref.(*str)
	if !ok || f.kind != kFile || m.src == nil {
		return m.err("typecheck")
	}
	n := 0
	if hex {
		have, v := false, 0
		for n < len(s.b) && m.src.i < len(m.src.b) {
			d := hexDigit(m.src.b[m.src.i])
			m.src.i++
			if d < 0 {
				continue
			}
			if have {
				s.b[n] = byte(v<<4 | d)
				n++
			}
			have, v = !have, d
		}
	} else {
		n = copy(s.b, m.src.b[m.src.i:])
		m.src.i += n
	}
	m.steps += n / 16
	m.push(object{kind: kString, ref: &str{s.b[:n]}})
	return m.push(boolean(n == len(s.b)))
}

func opReadline(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	if _, err := m.pop(); err != nil {
		return err
	}
	s, ok := o.ref.(*str)
	if !ok || m.src == nil {
		return m.err("typecheck")
	}
	n := 0
	more := false
	for m.src.i < len(m.src.b) {
		c := m.src.b[m.src.i]
		m.src.i++
		if c == '\n' || c == '\r' {
			if c == '\r' && m.src.i < len(m.src.b) && m.src.b[m.src.i] == '\n' {
				m.src.i++
			}
			more = true
			break
		}
		if n < len(s.b) {
			s.b[n] = c
			n++
		}
	}
	m.push(object{kind: kString, ref: &str{s.b[:n]}})
	return m.push(boolean(more))
}

// filters is the chain of decoders on the program text, the first read last.
type filters struct{ names []string }

// opFilter keeps of a filtered file what tells where its data end and how to
// decode them; that happens only when the file is executed.
func opFilter(m *machine) error {
	k, err := m.pop()
	if err != nil {
		return err
	}
	end := ""
	switch key(k) {
	case "ASCII85Decode":
		end = "~>"
	case "ASCIIHexDecode":
		end = ">"
	case "SubFileDecode":
		eod, err := m.pop()
		if err != nil {
			return err
		}
		if s, ok := eod.ref.(*str); ok {
			end = string(s.b)
		}
		if _, err := m.pop(); err != nil {
			return err
		}
	}
	chain := &filters{[]string{key(k)}}
	for len(m.stack) > 0 { // parameters, down to the source
		o, _ := m.pop()
		if o.kind == kFile {
			if o.s != "" {
				end = o.s
			}
			if f, ok := o.ref.(*filters); ok {
				chain.names = append(chain.names, f.names...)
			}
			break
		}
		if o.kind == kString || o.kind == kArray {
			break
		}
	}
	return m.push(object{kind: kFile, s: end, ref: chain})
}

// runFiltered executes the data of a filtered file.
func (m *machine) runFiltered(o object) error {
	f, ok := o.ref.(*filters)
	if !ok || m.src == nil {
		return nil
	}
	from := m.src.i
	if o.s != "" {
		m.skipTo(o.s)
	} else {
		m.src.i = len(m.src.b)
	}
	data := m.src.b[from:m.src.i]
	for i := len(f.names) - 1; i >= 0; i-- {
		var err error
		if data, err = decode(f.names[i], data); err != nil {
			return m.err("ioerror")
		}
		if m.memory += len(data) / 8; m.memory > maxMemory {
			return m.err("VMerror")
		}
	}
	if m.depth++; m.depth > maxDepth {
		return m.err("execstackoverflow")
	}
	defer func() { m.depth-- }()
	return m.run(&scanner{b: data})
}

// decode undoes one filter (PLRM 3.13.3).
func decode(kind string, data []byte) ([]byte, error) {
	const most = 64 << 20
	switch kind {
	case "ASCII85Decode":
		if i := bytes.Index(data, []byte("~>")); i >= 0 {
			data = data[:i]
		}
		return io.ReadAll(io.LimitReader(ascii85.NewDecoder(bytes.NewReader(data)), most))
	case "ASCIIHexDecode":
		s := scanner{b: append([]byte("<"), data...)}
		return s.hex().ref.(*str).b, nil
	case "FlateDecode":
		z, err := zlib.NewReader(bytes.NewReader(data))
		if err != nil {
			return nil, err
		}
		return io.ReadAll(io.LimitReader(z, most))
	case "LZWDecode":
		return io.ReadAll(io.LimitReader(lzw.NewReader(bytes.NewReader(data), lzw.MSB, 8), most))
	case "RunLengthDecode":
		var out []byte
		for i := 0; i < len(data) && data[i] != 128 && len(out) < most; {
			n := int(data[i])
			if i++; n < 128 {
				out = append(out, data[i:min(len(data), i+n+1)]...)
				i += n + 1
			} else if i < len(data) {
				out = append(out, bytes.Repeat(data[i:i+1], 257-n)...)
				i++
			}
		}
		return out, nil
	case "SubFileDecode":
		return data, nil
	}
	return nil, errors.New("unknown filter")
}

// skipFile moves behind the data of a filtered file.
func (m *machine) skipFile(f object) {
	if f.kind == kFile && f.s != "" {
		m.skipTo(f.s)
	}
}

func (m *machine) skipTo(end string) {
	if m.src == nil {
		return
	}
	if i := bytes.Index(m.src.b[m.src.i:], []byte(end)); i >= 0 {
		m.src.i += i + len(end)
		return
	}
	m.src.i = len(m.src.b)
}
