package ps

import (
	"bytes"
	"compress/zlib"
	"encoding/ascii85"
	"errors"
	"io"

	"golang.org/x/image/tiff/lzw" // with the early change of PostScript

	"bildhauer/core/read/budget"
)

func opToken(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	var s *scanner
	if t, ok := o.ref.(*str); ok {
		s = &scanner{b: t.b}
	} else if s, err = m.file(o); err != nil {
		return err
	}
	t, ok := s.next()
	if ok && t.kind == kName && t.exec && t.s == "{" {
		if t, err = m.readProc(s); err != nil {
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

// fileArg pops a file and makes sure that it is decoded.
func (m *machine) fileArg() (*scanner, error) {
	o, err := m.pop()
	if err != nil {
		return nil, err
	}
	return m.file(o)
}

func (m *machine) file(o object) (*scanner, error) {
	s, ok := o.ref.(*scanner)
	if !ok || o.kind != kFile {
		return nil, m.err("typecheck")
	}
	return s, m.ensure(s)
}

// ensure decodes a filtered file on its first use.
func (m *machine) ensure(s *scanner) error {
	if s.fill == nil {
		return nil
	}
	f := s.fill
	s.fill = nil
	data, err := f()
	if err != nil {
		return err
	}
	m.budget.Spend(budget.Memory, len(data)/8)
	m.budget.Spend(budget.Bytes, len(data))
	s.b, s.i = data, 0
	return nil
}

// readString fills a string from a file.
func (m *machine) readString(hex bool) error {
	f, o, err := m.pop2()
	if err != nil {
		return err
	}
	s, ok := o.ref.(*str)
	if !ok {
		return m.err("typecheck")
	}
	src, err := m.file(f)
	if err != nil {
		return err
	}
	n := 0
	if hex {
		have, v := false, 0
		for n < len(s.b) && src.i < len(src.b) {
			d := hexDigit(src.b[src.i])
			src.i++
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
		n = copy(s.b, src.b[src.i:])
		src.i += n
	}
	m.budget.Spend(budget.Steps, n/16)
	m.push(object{kind: kString, ref: &str{s.b[:n]}})
	return m.push(boolean(n == len(s.b)))
}

func opReadline(m *machine) error {
	f, o, err := m.pop2()
	if err != nil {
		return err
	}
	s, ok := o.ref.(*str)
	if !ok {
		return m.err("typecheck")
	}
	src, err := m.file(f)
	if err != nil {
		return err
	}
	n := 0
	more := false
	for src.i < len(src.b) {
		c := src.b[src.i]
		src.i++
		if c == '\n' || c == '\r' {
			if c == '\r' && src.i < len(src.b) && src.b[src.i] == '\n' {
				src.i++
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

// opFilter pushes a file that decodes another, a string or what a procedure
// gives, on its first use. The file below moves on behind the encoded data.
func opFilter(m *machine) error {
	k, err := m.pop()
	if err != nil {
		return err
	}
	kind := key(k)
	var end []byte
	count := 0
	if kind == "SubFileDecode" {
		eod, err := m.pop()
		if err != nil {
			return err
		}
		if d, ok := eod.ref.(*dict); ok { // as a dictionary
			count = d.m["EODCount"].n
			if s, ok := d.m["EODString"].ref.(*str); ok {
				end = s.b
			}
		} else {
			if s, ok := eod.ref.(*str); ok {
				end = s.b
			}
			if count, err = m.intArg(); err != nil {
				return err
			}
		}
	}
	// Parameters lie above the source: a dictionary, or two numbers for runs.
	var src object
	for {
		if src, err = m.pop(); err != nil {
			return err
		}
		if src.kind == kFile || src.kind == kString || src.kind == kArray {
			break
		}
	}
	s := &scanner{}
	s.fill = func() ([]byte, error) {
		from, err := m.sourceBytes(src)
		if err != nil {
			return nil, err
		}
		out, used, err := decode(kind, from.b[from.i:], end, count)
		from.i = min(len(from.b), from.i+used)
		m.budget.Spend(budget.Steps, (used+len(out))/64)
		if err != nil {
			return nil, m.err("ioerror")
		}
		return out, nil
	}
	if kind == "ReusableStreamDecode" { // reads everything at once
		if err := m.ensure(s); err != nil {
			return err
		}
	}
	return m.push(object{kind: kFile, ref: s})
}

// sourceBytes returns the file, string or results of a procedure to read from.
func (m *machine) sourceBytes(src object) (*scanner, error) {
	switch r := src.ref.(type) {
	case *scanner:
		return r, m.ensure(r)
	case *str:
		return &scanner{b: r.b}, nil
	case *array:
		all, err := m.pull(r, maxDecoded)
		return &scanner{b: all}, err
	}
	return nil, m.err("typecheck")
}

// pull calls a procedure that gives strings until it has enough bytes or gets
// an empty one.
func (m *machine) pull(a *array, enough int) ([]byte, error) {
	var all []byte
	for len(all) < enough {
		m.budget.Visit()
		if err := m.call(a); err != nil {
			return nil, err
		}
		o, err := m.pop()
		if err != nil {
			return nil, err
		}
		s, ok := o.ref.(*str)
		if !ok || len(s.b) == 0 {
			break
		}
		all = append(all, s.b...)
	}
	return all, nil
}

// runFile executes a file.
func (m *machine) runFile(o object) error {
	s, err := m.file(o)
	if err != nil {
		return err
	}
	if !m.budget.Enter() {
		m.budget.Leave()
		return m.err("execstackoverflow")
	}
	defer m.budget.Leave()
	return m.run(s)
}

// maxDecoded bounds what a filter makes.
const maxDecoded = 64 << 20

// decode undoes one filter (PLRM 3.13.3) and tells how many bytes it took.
func decode(kind string, data, end []byte, count int) (out []byte, used int, err error) {
	until := func(end string) []byte {
		i := bytes.Index(data, []byte(end))
		if i < 0 {
			used = len(data)
			return data
		}
		used = i + len(end)
		return data[:i]
	}
	r := bytes.NewReader(data)
	drained := func(z io.Reader) ([]byte, int, error) {
		out, err := io.ReadAll(io.LimitReader(z, maxDecoded))
		if len(out) > 0 { // damaged behind: keep what there is
			err = nil
		}
		return out, len(data) - r.Len(), err
	}
	switch kind {
	case "ASCII85Decode":
		text := until("~>")
		out, err = io.ReadAll(
			io.LimitReader(
				ascii85.NewDecoder(bytes.NewReader(bytes.TrimPrefix(bytes.TrimSpace(text), []byte("<~")))),
				maxDecoded,
			),
		)
		return out, used, err
	case "ASCIIHexDecode":
		s := scanner{b: append([]byte("<"), until(">")...)}
		return s.hex().ref.(*str).b, used, nil
	case "FlateDecode":
		z, err := zlib.NewReader(r)
		if err != nil {
			return nil, len(data) - r.Len(), err
		}
		return drained(z)
	case "LZWDecode":
		return drained(lzw.NewReader(r, lzw.MSB, 8))
	case "RunLengthDecode":
		out, used = runLength(data)
		return out, used, nil
	case "SubFileDecode":
		out, used = subFile(data, end, count)
		return out, used, nil
	case "ReusableStreamDecode", "NullEncode":
		return data, len(data), nil
	case "DCTDecode", "JPXDecode": // a bitmap, which is not looked at
		until("\xff\xd9")
		return nil, used, nil
	case "CCITTFaxDecode", "JBIG2Decode":
		return nil, len(data), nil
	}
	return nil, 0, errors.New("unknown filter")
}

// runLength undoes run-length encoding up to its end mark.
func runLength(data []byte) (out []byte, used int) {
	i := 0
	for i < len(data) && len(out) < maxDecoded {
		n := int(data[i])
		i++
		switch {
		case n == 128:
			return out, i
		case n < 128:
			out = append(out, data[i:min(len(data), i+n+1)]...)
			i += n + 1
		case i < len(data):
			out = append(out, bytes.Repeat(data[i:i+1], 257-n)...)
			i++
		}
	}
	return out, min(i, len(data))
}

// subFile returns the first count bytes, or, where there is an end mark, all up to
// it (count 0) or up to behind its count-th occurrence.
func subFile(data, end []byte, count int) (out []byte, used int) {
	if len(end) == 0 {
		if count <= 0 {
			count = len(data)
		}
		n := min(count, len(data))
		return data[:n], n
	}
	for at := 0; ; {
		i := bytes.Index(data[at:], end)
		if i < 0 {
			return data, len(data)
		}
		if count <= 0 { // up to the mark
			return data[:at+i], at + i + len(end)
		}
		at += i + len(end)
		if count--; count == 0 {
			return data[:at], at
		}
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
