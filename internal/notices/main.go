// Command notices collects the licences of all that goes into the program: the Go modules that it is
// built of, by what the go tool says of the build itself, and what is embedded, by shipped.json. What
// has no licence text, or is embedded and not named, ends it with a sentence.
package main

import (
	"bytes"
	"compress/gzip"
	"encoding/json"
	"fmt"
	"maps"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"regexp"
	"runtime"
	"slices"
	"strings"

	"bildhauer/notices"
)

func main() {
	root, err := exec.Command("go", "list", "-m", "-f", "{{.Dir}}").Output()
	if err == nil {
		var data []byte
		if data, err = collect(strings.TrimSpace(string(root))); err == nil {
			var packed bytes.Buffer
			z, _ := gzip.NewWriterLevel(&packed, gzip.BestCompression)
			z.Write(data)
			z.Close()
			err = os.WriteFile(filepath.Join(strings.TrimSpace(string(root)), "notices", "notices.json.gz"), packed.Bytes(), 0o644)
		}
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, "notices:", err)
		os.Exit(1)
	}
}

// shipped is what is in the program beside Go code.
type shipped struct {
	Own     []string // written here
	Shipped []struct {
		Name, Version, Source string
		Licence               string   // file
		Head                  bool     // the licence is the comment that the file begins with
		Files                 []string // patterns
	}
}

// pkg is what the go tool says of a package.
type pkg struct {
	Dir        string
	Standard   bool
	EmbedFiles []string
	Module     *struct {
		Path, Version, Dir string
		Main               bool
	}
}

// collector gathers works and gives each text a place.
type collector struct {
	list  notices.List
	place map[string]int
}

func (c *collector) text(s string) int {
	s = strings.TrimSpace(strings.ReplaceAll(s, "\r\n", "\n"))
	i, known := c.place[s]
	if !known {
		i = len(c.list.Texts)
		c.place[s] = i
		c.list.Texts = append(c.list.Texts, s)
	}
	return i
}

// collect returns the list as a JSON file.
func collect(root string) ([]byte, error) {
	var ship shipped
	raw, err := os.ReadFile(filepath.Join(root, "internal", "notices", "shipped.json"))
	if err == nil {
		err = json.Unmarshal(raw, &ship)
	}
	if err != nil {
		return nil, err
	}
	pkgs, err := packages(root)
	if err != nil {
		return nil, err
	}
	c := &collector{place: map[string]int{}}
	for _, step := range []func() error{
		func() error { return c.addShipped(root, &ship, pkgs) },
		func() error { return c.addModules(pkgs) },
	} {
		if err := step(); err != nil {
			return nil, err
		}
	}
	slices.SortFunc(c.list.Works, func(a, b notices.Work) int { return strings.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) })
	var out bytes.Buffer
	enc := json.NewEncoder(&out)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", " ")
	err = enc.Encode(c.list)
	return out.Bytes(), err
}

// packages lists all that the program is built of, for the systems that it is built for.
func packages(root string) (out []pkg, err error) {
	for _, system := range []string{"linux", "darwin", "windows"} {
		cmd := exec.Command("go", "list", "-e", "-deps", "-json=Dir,Standard,EmbedFiles,Module", "./cmd/bildhauer")
		cmd.Dir, cmd.Env = root, append(os.Environ(), "GOOS="+system, "GOARCH=amd64", "CGO_ENABLED=0")
		raw, err := cmd.Output()
		if err != nil {
			return nil, fmt.Errorf("the go tool can't list the packages: %w", err)
		}
		for dec := json.NewDecoder(bytes.NewReader(raw)); dec.More(); {
			var p pkg
			if err := dec.Decode(&p); err != nil {
				return nil, err
			}
			out = append(out, p)
		}
	}
	return out, nil
}

// addShipped adds what is embedded, and refuses what is neither our own nor named.
func (c *collector) addShipped(root string, ship *shipped, pkgs []pkg) error {
	used := map[string]bool{}
	for _, p := range pkgs {
		if p.Module == nil || !p.Module.Main {
			continue
		}
		for _, f := range p.EmbedFiles {
			rel, err := filepath.Rel(root, filepath.Join(p.Dir, f))
			if err != nil {
				return err
			}
			rel = filepath.ToSlash(rel)
			if matches(ship.Own, rel) {
				continue
			}
			found := false
			for _, s := range ship.Shipped {
				if matches(s.Files, rel) {
					found, used[s.Name] = true, true
				}
			}
			if !found {
				return fmt.Errorf("%s is embedded, and internal/notices/shipped.json does not say whose it is", rel)
			}
		}
	}
	for _, s := range ship.Shipped {
		if !used[s.Name] {
			return fmt.Errorf("%s is in internal/notices/shipped.json, but not in the program", s.Name)
		}
		text, err := os.ReadFile(filepath.Join(root, filepath.FromSlash(s.Licence)))
		if err != nil {
			return fmt.Errorf("the licence of %s: %w", s.Name, err)
		}
		if s.Head {
			text = head(text)
		}
		c.list.Works = append(c.list.Works, notices.Work{Name: s.Name, Version: s.Version, Source: s.Source, Texts: []int{c.text(string(text))}})
	}
	return nil
}

// matches reports whether a file, or a folder that it is in, has one of some patterns.
func matches(patterns []string, file string) bool {
	for ; file != "."; file = path.Dir(file) {
		for _, p := range patterns {
			if ok, _ := path.Match(p, file); ok {
				return true
			}
		}
	}
	return false
}

// head returns the comment that a file begins with.
func head(text []byte) []byte {
	var out []byte
	for line := range bytes.Lines(text) {
		if !bytes.HasPrefix(line, []byte("#")) {
			break
		}
		out = append(out, bytes.TrimPrefix(bytes.TrimPrefix(line, []byte("#")), []byte(" "))...)
	}
	return out
}

// licence is what files with licences and notices are called.
var licence = regexp.MustCompile(`(?i)^(un)?(licen[cs]e|copying|copyright|notice|patents|gconf)`)

// addModules adds the modules of all packages, and the language itself, with the licences in the
// folders from each package up to its module's.
func (c *collector) addModules(pkgs []pkg) error {
	files := map[string][]string{} // by module
	works := map[string]notices.Work{}
	for _, p := range pkgs {
		name, version, top := "", "", ""
		switch {
		case p.Standard:
			name, version, top = "Go", "standard library and runtime", runtime.GOROOT()
		case p.Module.Main:
			continue
		default:
			name, version, top = p.Module.Path, p.Module.Version, p.Module.Dir
		}
		works[name] = notices.Work{Name: name, Version: version, Source: "https://" + sourceOf(name)}
		for dir := p.Dir; ; dir = filepath.Dir(dir) {
			list, err := os.ReadDir(dir)
			if err != nil {
				return fmt.Errorf("the module %s is not at hand: %w", name, err)
			}
			for _, e := range list {
				path := filepath.Join(dir, e.Name())
				if e.Type().IsRegular() && licence.MatchString(e.Name()) && filepath.Ext(path) != ".go" && !slices.Contains(files[name], path) {
					files[name] = append(files[name], path)
				}
			}
			if dir == top || dir == filepath.Dir(dir) {
				break
			}
		}
	}
	for _, name := range slices.Sorted(maps.Keys(works)) {
		if len(files[name]) == 0 {
			return fmt.Errorf("the module %s has no licence text", name)
		}
		w := works[name]
		slices.Sort(files[name])
		for _, f := range files[name] {
			text, err := os.ReadFile(f)
			if err != nil {
				return err
			}
			if i := c.text(string(text)); !slices.Contains(w.Texts, i) {
				w.Texts = append(w.Texts, i)
			}
		}
		c.list.Works = append(c.list.Works, w)
	}
	return nil
}

func sourceOf(module string) string {
	if module == "Go" {
		return "go.dev"
	}
	return module
}
