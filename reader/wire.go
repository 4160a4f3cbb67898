// Package reader reads artwork in child processes: the program itself, started ahead, with
// limits on memory and time that the system keeps. Whatever a file does to a reader, the
// program goes on; who gave the file gets a sentence.
package reader

import (
	"encoding/binary"
	"encoding/json"
	"errors"
	"io"

	"bildhauer/core/read/trace"
)

// marker is the variable by which the program knows that it was started as a reader.
const marker = "BILDHAUER_READER"

// request is what a reader is asked: a file follows it, then the fonts.
type request struct {
	Name  string
	Page  int
	Trace trace.Settings
	Size  int   // bytes of the file
	Fonts []int // bytes of each font that was added
	Font  bool  // the file is a font that is tried, and no artwork
}

// The kinds of answer.
const (
	ready   = 'r' // the reader is there; comes once
	sheet   = 's' // a packed sheet
	refusal = 'n' // a sentence
	mistake = 'b' // a sentence, a zero byte and what went wrong inside
	fontOK  = 'f'
)

// maxAnswer bounds an answer: a sheet of as many nodes as a file may have.
const maxAnswer = 512 << 20

// errWire is what is returned for an answer that makes no sense.
var errWire = errors.New("the reader's answer is damaged")

func sendRequest(w io.Writer, r request, parts ...[]byte) error {
	head, err := json.Marshal(r)
	if err != nil {
		return err
	}
	out := binary.LittleEndian.AppendUint32(nil, uint32(len(head)))
	out = append(out, head...)
	if _, err := w.Write(out); err != nil {
		return err
	}
	for _, p := range parts {
		if _, err := w.Write(p); err != nil {
			return err
		}
	}
	return nil
}

// readRequest returns a request with its file and fonts; io.EOF when nobody asks any more.
func readRequest(in io.Reader) (r request, parts [][]byte, err error) {
	var n [4]byte
	if _, err := io.ReadFull(in, n[:]); err != nil {
		return r, nil, err
	}
	head := make([]byte, binary.LittleEndian.Uint32(n[:]))
	if _, err := io.ReadFull(in, head); err != nil {
		return r, nil, err
	}
	if err := json.Unmarshal(head, &r); err != nil {
		return r, nil, err
	}
	for _, size := range append([]int{r.Size}, r.Fonts...) {
		p := make([]byte, size)
		if _, err := io.ReadFull(in, p); err != nil {
			return r, nil, err
		}
		parts = append(parts, p)
	}
	return r, parts, nil
}

func sendAnswer(w io.Writer, kind byte, body []byte) error {
	head := binary.LittleEndian.AppendUint32([]byte{kind}, uint32(len(body)))
	if _, err := w.Write(head); err != nil {
		return err
	}
	_, err := w.Write(body)
	return err
}

func readAnswer(in io.Reader) (kind byte, body []byte, err error) {
	var head [5]byte
	if _, err := io.ReadFull(in, head[:]); err != nil {
		return 0, nil, err
	}
	n := binary.LittleEndian.Uint32(head[1:])
	if n > maxAnswer {
		return 0, nil, errWire
	}
	body = make([]byte, n)
	_, err = io.ReadFull(in, body)
	return head[0], body, err
}
