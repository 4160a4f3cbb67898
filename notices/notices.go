// Package notices tells what of others is in the program, with the texts of its licences.
package notices

import (
	"bytes"
	"compress/gzip"
	_ "embed"
	"encoding/json"
	"fmt"
	"io"
	"strings"
)

//go:generate go run ../internal/notices

//go:embed notices.json.gz
var raw []byte

// Work is something that was made by others.
type Work struct {
	Name    string `json:"name"`
	Version string `json:"version"`
	Source  string `json:"source"` // where it can be found
	Texts   []int  `json:"texts"`  // of its licences, by their place in List
}

// List is all that is in the program.
type List struct {
	Works []Work   `json:"works"`
	Texts []string `json:"texts"` // each once: many works share one
}

// Read returns the list that is part of the program.
func Read() (l List, err error) {
	z, err := gzip.NewReader(bytes.NewReader(raw))
	if err == nil {
		err = json.NewDecoder(z).Decode(&l)
	}
	return l, err
}

// Write writes all works and texts to be read.
func (l *List) Write(w io.Writer) error {
	var b strings.Builder
	for _, k := range l.Works {
		fmt.Fprintf(&b, "%s %s\n%s\n", k.Name, k.Version, k.Source)
		for _, t := range k.Texts {
			fmt.Fprintf(&b, "\n%s\n", l.Texts[t])
		}
		b.WriteString("\n" + strings.Repeat("-", 78) + "\n\n")
	}
	_, err := io.WriteString(w, b.String())
	return err
}
