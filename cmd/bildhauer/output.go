package main

import (
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"
)

// outputs says where the results of a command go.
type outputs struct {
	out, dir string
}

// outFlags adds -o and -d to a command.
func outFlags(c *cobra.Command) *outputs {
	to := &outputs{}
	c.Flags().StringVarP(&to.out, "out", "o", "", "The `FILE` to write.")
	c.Flags().StringVarP(&to.dir, "dir", "d", "", "The `DIR` to write into, for one file or several.")
	return to
}

// check returns wrong usage of -o and -d.
func (o *outputs) check(name string, files int) error {
	if (o.out == "") == (o.dir == "") {
		return wrong("%s needs either -o OUT or -d DIR", name)
	}
	if o.out != "" && files > 1 {
		return wrong("several files need -d DIR")
	}
	return nil
}

// ending returns the ending of the result without its dot, "" where there is none.
func (o *outputs) ending() string {
	return strings.TrimPrefix(strings.ToLower(filepath.Ext(o.out)), ".")
}

// targets returns the path of the result for each file. Two files of one name
// are numbered; none of the results takes the place of a file that is read.
func (o *outputs) targets(files []string, format string) ([]string, error) {
	if o.out != "" {
		for _, f := range files {
			if sameFile(o.out, f) {
				return nil, fmt.Errorf(
					"%s is read and would be written over; choose another name for -o",
					o.out,
				)
			}
		}
		return []string{o.out}, nil
	}
	taken := map[string]bool{}
	out := make([]string, len(files))
	for i, path := range files {
		base := filepath.Base(path)
		base = strings.TrimSuffix(base, filepath.Ext(base))
		for n := 1; ; n++ {
			name := base
			if n > 1 {
				name = fmt.Sprintf("%s-%d", base, n)
			}
			out[i] = filepath.Join(o.dir, name+"."+format)
			if !taken[strings.ToLower(out[i])] && !anySame(out[i], files) {
				break
			}
		}
		taken[strings.ToLower(out[i])] = true // systems that know no case
	}
	return out, nil
}

func anySame(path string, files []string) bool {
	for _, f := range files {
		if sameFile(path, f) {
			return true
		}
	}
	return false
}

func sameFile(a, b string) bool {
	x, err := os.Stat(a)
	if err != nil {
		return false
	}
	y, err := os.Stat(b)
	return err == nil && os.SameFile(x, y)
}

// pending is a file that is being written under a temporary name.
type pending struct {
	path   string // where it goes in the end
	file   *os.File
	direct bool // a device or pipe: written to as it is
}

// begin opens the file for path. What is there already stays as it is until
// the whole result is written; a link is followed, a file that is protected
// against writing is not replaced.
func begin(path string) (*pending, error) {
	fail := func(err error) (*pending, error) {
		return nil, fmt.Errorf("%s can't be written: %v", path, unwrapPath(err))
	}
	if real, err := filepath.EvalSymlinks(path); err == nil {
		path = real
	}
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		return fail(err)
	}
	st, err := os.Stat(path)
	switch {
	case err != nil: // nothing there
	case st.IsDir():
		return nil, fmt.Errorf("%s is a folder; name a file in it, or use -d", path)
	case !st.Mode().IsRegular():
		f, err := os.OpenFile(path, os.O_WRONLY, 0)
		if err != nil {
			return fail(err)
		}
		return &pending{path, f, true}, nil
	case st.Mode().Perm()&0o222 == 0:
		return nil, fmt.Errorf("%s is protected against writing", path)
	}
	f, err := os.CreateTemp(filepath.Dir(path), ".bildhauer-*")
	if err != nil {
		return fail(err)
	}
	return &pending{path, f, false}, nil
}

// abandon forgets a file that is not to be kept.
func (p *pending) abandon() {
	p.file.Close()
	if !p.direct {
		os.Remove(p.file.Name())
	}
}

// keep puts a file that is written whole in its place.
func (p *pending) keep() error {
	err := p.file.Close()
	if p.direct || err != nil {
		return p.failed(err)
	}
	mode := os.FileMode(0o644)
	if st, err := os.Stat(p.path); err == nil {
		mode = st.Mode().Perm()
	}
	if err := os.Chmod(p.file.Name(), mode); err != nil {
		return p.failed(err)
	}
	return p.failed(os.Rename(p.file.Name(), p.path))
}

func (p *pending) failed(err error) error {
	if err == nil {
		return nil
	}
	return fmt.Errorf("%s can't be written: %v", p.path, unwrapPath(err))
}

// create writes files whole or not at all: f writes to one writer for each
// path.
func create(f func(w []io.Writer) error, paths ...string) error {
	var files []*pending
	var writers []io.Writer
	abandon := func() {
		for _, p := range files {
			p.abandon()
		}
	}
	for _, path := range paths {
		p, err := begin(path)
		if err != nil {
			abandon()
			return err
		}
		files = append(files, p)
		writers = append(writers, p.file)
	}
	if err := f(writers); err != nil {
		abandon()
		return fmt.Errorf("%s can't be written: %v", paths[0], unwrapPath(err))
	}
	for i, p := range files {
		if err := p.keep(); err != nil {
			for _, q := range files[i:] {
				q.abandon()
			}
			return err
		}
	}
	return nil
}
