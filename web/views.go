package web

import (
	"embed"
	"fmt"
	"html/template"
	"io"
	"path"
	"strings"
)

//go:embed templates
var templateFiles embed.FS

// views renders pages; each page has a set of its own with the frame, so that
// pages can define blocks of the same name.
type views struct{ sets map[string]*template.Template }

func newViews() (*views, error) {
	v := &views{map[string]*template.Template{}}
	pages, err := templateFiles.ReadDir("templates")
	if err != nil {
		return nil, err
	}
	for _, p := range pages {
		name := strings.TrimSuffix(p.Name(), path.Ext(p.Name()))
		if name == "frame" {
			continue
		}
		t, err := template.ParseFS(templateFiles, "templates/frame.html", "templates/"+p.Name())
		if err != nil {
			return nil, err
		}
		v.sets[name] = t
	}
	return v, nil
}

// Load is part of fiber.Views; the sets are parsed already.
func (v *views) Load() error { return nil }

// Render writes the page with the given name.
func (v *views) Render(w io.Writer, name string, data any, _ ...string) error {
	t, ok := v.sets[name]
	if !ok {
		return fmt.Errorf("no page %q", name)
	}
	return t.ExecuteTemplate(w, "frame", data)
}
