// Package svg reads Scalable Vector Graphics (SVG 1.1 and the static parts of
// SVG 2) into a sheet.
package svg

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"strings"

	"golang.org/x/net/html/charset"

	"bildhauer/core/read/budget"
	"bildhauer/core/read/fault"
)

// node is an element of the document.
type node struct {
	name   string // local name; space is known to be SVG's or none
	attrs  map[string]string
	text   string
	parent *node
	kids   []*node
	prev   *node // the element beside it in the document, and
	next   *node
	order  int    // its number among its siblings, from 1
	label  string // from an editor's namespace
	layer  bool
}

// beside gives a new element its place behind the last of its siblings.
func (n *node) beside(parent *node) {
	n.order = 1
	for i := len(parent.kids) - 1; i >= 0; i-- {
		if last := parent.kids[i]; last.name != "#text" {
			n.prev, n.order = last, last.order+1
			last.next = n
			return
		}
	}
}

func (n *node) attr(name string) string { return n.attrs[name] }

const svgSpace = "http://www.w3.org/2000/svg"

// parseDocument builds the tree of elements.
func parseDocument(data []byte, b *budget.Budget) (*node, error) {
	data, err := expanded(utf8Bytes(data), b)
	if err != nil {
		return nil, err
	}
	d := xml.NewDecoder(bytes.NewReader(data))
	d.Strict = true
	d.CharsetReader = func(label string, in io.Reader) (io.Reader, error) {
		if strings.HasPrefix(strings.ToLower(label), "utf-16") {
			return in, nil // decoded already by its byte-order mark
		}
		r, err := charset.NewReaderLabel(label, in)
		if err != nil {
			return nil, fault.New(
				"is written in the character encoding %q, which is not known. Save it as UTF-8",
				label,
			)
		}
		return r, nil
	}
	var root, at *node
	for {
		tok, err := d.RawToken()
		if err == io.EOF {
			break
		}
		if err != nil {
			return nil, syntaxFault(err)
		}
		switch t := tok.(type) {
		case xml.StartElement:
			b.Dive()
			b.Spend(budget.Objects, 1)
			n := newNode(t, at)
			if root == nil {
				if n.name != "svg" {
					return nil, fault.New("is not an SVG drawing: its outermost element is <%s>. Save the artwork as SVG", t.Name.Local)
				}
				root = n
				n.order = 1
			} else if at == nil {
				return nil, fault.New("has something after its end: <%s>. Save the artwork again", t.Name.Local)
			} else {
				n.beside(at)
				at.kids = append(at.kids, n)
			}
			at = n
		case xml.EndElement:
			if at == nil {
				return nil, fault.New("closes <%s> without opening it. Save the artwork again", t.Name.Local)
			}
			if local(t.Name) != at.name && t.Name.Local != at.name {
				line, _ := d.InputPos()
				return nil, fault.New("is damaged in line %d: <%s> is closed by </%s>. Save the artwork again", line, at.name, t.Name.Local)
			}
			at = at.parent
			b.Leave()
		case xml.CharData:
			switch {
			case at == nil:
			case at.name == "style" || at.name == "title":
				at.text += string(t)
			case textual[at.name]: // in order with the elements between
				at.kids = append(at.kids, &node{name: "#text", text: string(t), parent: at})
			case trim(string(t)) != "": // of no drawing, but text may refer to it
				b.Spend(budget.Steps, (len(t)+len(at.text))/16)
				at.text += string(t)
			}
		}
	}
	if root == nil {
		return nil, fault.New("is not an SVG file. Save the artwork as SVG")
	}
	if at != nil {
		return nil, fault.New("ends in the middle of <%s>. Save or copy the artwork again", at.name)
	}
	return root, nil
}

// textual are the elements whose characters are drawn.
var textual = map[string]bool{"text": true, "tspan": true, "textPath": true, "a": true}

// local returns a name as it is matched: SVG's own names plain, those of other
// namespaces with their prefix.
func local(n xml.Name) string {
	if n.Space == "" || n.Space == "svg" {
		return n.Local
	}
	return n.Space + ":" + n.Local
}

func newNode(t xml.StartElement, parent *node) *node {
	n := &node{name: local(t.Name), parent: parent, attrs: make(map[string]string, len(t.Attr))}
	for _, a := range t.Attr {
		switch {
		case a.Name.Space == "":
			n.attrs[a.Name.Local] = a.Value
		case a.Name.Space == "xlink" || a.Name.Space == "xml":
			if _, ok := n.attrs[a.Name.Local]; !ok {
				n.attrs[a.Name.Local] = a.Value
			}
		case a.Name.Local == "label" && a.Name.Space != "xmlns":
			n.label = a.Value
		case a.Name.Local == "groupmode" && a.Value == "layer":
			n.layer = true
		}
	}
	return n
}

func syntaxFault(err error) error {
	var f *fault.Fault
	if errors.As(err, &f) {
		return f
	}
	var s *xml.SyntaxError
	if errors.As(err, &s) {
		what := s.Msg
		switch {
		case strings.Contains(what, "invalid character entity"):
			what = "an entity that is not defined: " + strings.TrimPrefix(what, "invalid character entity ")
		case strings.Contains(what, "unexpected EOF"):
			what = "it ends too early"
		}
		return fault.New("is damaged in line %d (%s). Save or copy the artwork again", s.Line, what)
	}
	return fault.New("can't be read as XML (%v). Save the artwork again", err)
}

// utf8Bytes decodes UTF-16 by its byte-order mark and drops that of UTF-8.
func utf8Bytes(data []byte) []byte {
	big := bytes.HasPrefix(data, []byte{0xfe, 0xff})
	if !big && !bytes.HasPrefix(data, []byte{0xff, 0xfe}) {
		return bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))
	}
	var b strings.Builder
	for i := 2; i+1 < len(data); i += 2 {
		r := rune(data[i]) | rune(data[i+1])<<8
		if big {
			r = rune(data[i])<<8 | rune(data[i+1])
		}
		if r >= 0xd800 && r < 0xdc00 && i+3 < len(data) {
			lo := rune(data[i+2]) | rune(data[i+3])<<8
			if big {
				lo = rune(data[i+2])<<8 | rune(data[i+3])
			}
			r = (r-0xd800)<<10 + (lo - 0xdc00) + 0x10000
			i += 2
		}
		b.WriteRune(r)
	}
	return []byte(b.String())
}

// describe names an element for a person.
func (n *node) describe() string {
	if n.label != "" {
		return n.label
	}
	if id := n.attr("id"); id != "" {
		return id
	}
	return fmt.Sprintf("<%s>", n.name)
}

// plainNames are what shapes without a name of their own are called.
var plainNames = map[string]string{
	"path":     "Path",
	"rect":     "Rectangle",
	"circle":   "Circle",
	"ellipse":  "Ellipse",
	"line":     "Line",
	"polyline": "Line",
	"polygon":  "Polygon",
	"text":     "Text",
}

// title names a shape for a person, by its number where the file gives none.
func (n *node) title(number int) string {
	d := n.describe()
	if p, ok := plainNames[n.name]; ok && d == "<"+n.name+">" {
		return fmt.Sprintf("%s %d", p, number)
	}
	return d
}
