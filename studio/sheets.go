package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"path/filepath"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/read"
	"bildhauer/core/read/font"
	"bildhauer/core/recipe"
	"bildhauer/store"
)

// SheetRef is one artwork file of a piece. Its slot stays when the file
// changes; keys of the shapes in slots above 1 begin with it.
type SheetRef struct {
	Slot   int    `json:"slot"`
	File   string `json:"file"` // id in the store
	Name   string `json:"name"`
	Page   int    `json:"page,omitempty"`   // from 1; 0 for the first
	Beside bool   `json:"beside,omitempty"` // to the right of those before, not over them
}

func (r SheetRef) prefix() string {
	if r.Slot <= 1 {
		return ""
	}
	return fmt.Sprintf("%d:", r.Slot)
}

// FontRef is a font added to a piece.
type FontRef struct {
	File   string `json:"file"`
	Name   string `json:"name"`
	Family string `json:"family"`
}

// File is an artwork or font file that comes in.
type File struct {
	Name string
	Data []byte
}

// maxSheets bounds the files of one piece.
const maxSheets = 40

func cleanName(name string) string {
	return filepath.Base(strings.ReplaceAll(name, `\`, "/"))
}

// Create makes a piece of one or several artwork files. They are read first;
// what can't be read makes no piece.
func (s *Studio) Create(files ...File) (string, error) {
	if len(files) == 0 || len(files) > maxSheets {
		return "", &ErrInput{fmt.Sprintf("A piece is made of 1 to %d files.", maxSheets)}
	}
	var doc Doc
	var kept []store.Sheet
	var sheets []*artwork.Sheet
	for i, f := range files {
		f.Name = cleanName(f.Name)
		sheet, err := read.Sheet(f.Name, f.Data)
		if err != nil {
			return "", err
		}
		if i == 0 {
			doc = Doc{Name: pieceName(f.Name), Recipe: recipe.New()}
		}
		kept = append(kept, store.Sheet{ID: newID(), Name: f.Name, Data: f.Data})
		ref := SheetRef{Slot: i + 1, File: kept[i].ID, Name: f.Name}
		ref.Beside = i > 0 && !sameSize(sheet, sheets[0])
		doc.Sheets = append(doc.Sheets, ref)
		sheets = append(sheets, sheet)
	}
	joined := join(doc.Sheets, sheets)
	// Resolving very large artwork takes its time; that is a build with
	// progress, not part of the upload.
	if joined.Nodes() <= 100_000 {
		if _, err := recipe.Apply(context.Background(), joined, &doc.Recipe); err != nil {
			var e *recipe.Error
			if !errors.As(err, &e) {
				return "", fmt.Errorf("%s: %w", files[0].Name, err)
			}
			if !strings.HasPrefix(e.Text, "Every shape is left out") { // Intake can take shapes in
				return "", fmt.Errorf("%s: %s", files[0].Name, e.Text)
			}
		}
	}
	return s.add(doc, kept, "Artwork read")
}

func sameSize(a, b *artwork.Sheet) bool {
	near := func(x, y float64) bool { return x-y < 0.01*(x+y) && y-x < 0.01*(x+y) }
	return near(a.Page.W(), b.Page.W()) && near(a.Page.H(), b.Page.H())
}

func (s *Studio) add(doc Doc, files []store.Sheet, label string) (string, error) {
	raw, err := json.Marshal(doc)
	if err != nil {
		return "", err
	}
	id := newID()
	return id, s.store.Create(id, files, store.State{Label: label, Doc: raw})
}

// refs returns the sheets of a piece; old documents name none.
func refs(p Piece) []SheetRef {
	if len(p.Doc.Sheets) == 0 {
		return []SheetRef{{Slot: 1}}
	}
	return p.Doc.Sheets
}

// sheetKey names what the artwork of a piece depends on.
func sheetKey(p Piece) string {
	raw, _ := json.Marshal([]any{p.ID, refs(p), p.Doc.Fonts})
	return string(raw)
}

// library returns the fonts added to a piece.
func (s *Studio) library(p Piece) (*font.Library, error) {
	lib := &font.Library{}
	for _, f := range p.Doc.Fonts {
		raw, err := s.store.Sheet(p.ID, f.File)
		if err != nil {
			return nil, err
		}
		face, err := font.ParseFace(raw.Data)
		if err != nil {
			continue // it was read when it was added
		}
		face.Added = true
		lib.Added = append(lib.Added, face)
	}
	return lib, nil
}

// one reads one file of a piece.
func (s *Studio) one(p Piece, ref SheetRef, lib *font.Library) (*artwork.Sheet, error) {
	raw, _ := json.Marshal([]any{p.ID, ref.File, ref.Page, p.Doc.Fonts})
	return s.sheets.get("file"+string(raw), func() (*artwork.Sheet, error) {
		f, err := s.store.Sheet(p.ID, ref.File)
		if err != nil {
			return nil, err
		}
		return read.SheetWith(f.Name, f.Data, read.Options{Fonts: lib, Page: ref.Page})
	})
}

func join(list []SheetRef, sheets []*artwork.Sheet) *artwork.Sheet {
	var parts []artwork.Placed
	for i, r := range list {
		parts = append(parts, artwork.Placed{Sheet: sheets[i], Prefix: r.prefix(), Beside: r.Beside})
	}
	return artwork.Join(parts)
}

// Sheet returns the artwork of a piece, several sheets put together.
func (s *Studio) Sheet(p Piece) (*artwork.Sheet, error) {
	return s.sheets.get(sheetKey(p), func() (*artwork.Sheet, error) {
		lib, err := s.library(p)
		if err != nil {
			return nil, err
		}
		var sheets []*artwork.Sheet
		for _, r := range refs(p) {
			one, err := s.one(p, r, lib)
			if err != nil {
				return nil, err
			}
			sheets = append(sheets, one)
		}
		return join(refs(p), sheets), nil
	})
}

// AddSheet reads another artwork file into a piece.
func (s *Studio) AddSheet(id string, f File) error {
	p, err := s.Piece(id)
	if err != nil {
		return err
	}
	f.Name = cleanName(f.Name)
	lib, err := s.library(p)
	if err != nil {
		return err
	}
	sheet, err := read.SheetWith(f.Name, f.Data, read.Options{Fonts: lib})
	if err != nil {
		return &ErrInput{err.Error()}
	}
	list := append([]SheetRef(nil), refs(p)...)
	if len(list) >= maxSheets {
		return &ErrInput{fmt.Sprintf("A piece holds at most %d sheets.", maxSheets)}
	}
	first, err := s.one(p, list[0], lib)
	if err != nil {
		return err
	}
	slot := 1
	for _, r := range list {
		slot = max(slot, r.Slot+1)
	}
	file := store.Sheet{ID: newID(), Name: f.Name, Data: f.Data}
	if err := s.store.Add(id, file); err != nil {
		return err
	}
	list = append(list, SheetRef{Slot: slot, File: file.ID, Name: f.Name, Beside: !sameSize(sheet, first)})
	return s.Change(id, "Add "+f.Name, func(d *Doc) error { d.Sheets = list; return nil })
}

// ChangeSheet edits where a sheet lies and which of its pages is taken, or
// takes it out of the piece.
func (s *Studio) ChangeSheet(id string, slot int, label string, edit func(*SheetRef), remove bool) error {
	p, err := s.Piece(id)
	if err != nil {
		return err
	}
	var list []SheetRef
	found := false
	for _, r := range refs(p) {
		if r.Slot == slot {
			found = true
			if remove {
				continue
			}
			edit(&r)
		}
		list = append(list, r)
	}
	switch {
	case !found:
		return &ErrInput{"This sheet is not in the piece any more."}
	case len(list) == 0:
		return &ErrInput{"A piece needs one sheet. Add another before you take this one out."}
	}
	trial := p
	trial.Doc.Sheets = list
	if _, err := s.Sheet(trial); err != nil {
		return &ErrInput{err.Error()}
	}
	return s.Change(id, label, func(d *Doc) error { d.Sheets = list; return nil })
}

// AddFont adds a font file to a piece; its texts are set anew.
func (s *Studio) AddFont(id string, f File) (string, error) {
	f.Name = cleanName(f.Name)
	face, err := font.ParseFace(f.Data)
	if err != nil {
		return "", &ErrInput{f.Name + " " + err.Error() + "."}
	}
	file := store.Sheet{ID: newID(), Name: f.Name, Data: f.Data, Kind: store.Font}
	if err := s.store.Add(id, file); err != nil {
		return "", err
	}
	return face.Family, s.Change(id, "Add the font "+face.Family, func(d *Doc) error {
		if len(d.Fonts) >= maxSheets {
			return &ErrInput{fmt.Sprintf("A piece holds at most %d fonts.", maxSheets)}
		}
		d.Fonts = append(append([]FontRef(nil), d.Fonts...), FontRef{File: file.ID, Name: f.Name, Family: face.Family})
		return nil
	})
}

// DropFont takes a font out of a piece.
func (s *Studio) DropFont(id, file string) error {
	return s.Change(id, "Take a font out", func(d *Doc) error {
		var kept []FontRef
		for _, f := range d.Fonts {
			if f.File != file {
				kept = append(kept, f)
			}
		}
		d.Fonts = kept
		return nil
	})
}

// Exchange is a changed file that waits to take the place of a sheet.
type Exchange struct {
	File, Name string
	Slot       int
	Old, New   *artwork.Sheet
	Matching   recipe.Matching
}

// Propose reads a changed file and matches its shapes with those of the sheet
// in a slot. Nothing changes until it is accepted.
func (s *Studio) Propose(id string, slot int, f File) (*Exchange, error) {
	f.Name = cleanName(f.Name)
	p, err := s.Piece(id)
	if err != nil {
		return nil, err
	}
	file := store.Sheet{ID: newID(), Name: f.Name, Data: f.Data}
	if _, err := read.Sheet(f.Name, f.Data); err != nil {
		return nil, &ErrInput{err.Error()}
	}
	if err := s.store.Add(id, file); err != nil {
		return nil, err
	}
	x, err := s.exchange(p, slot, file.ID, f.Name)
	if err != nil {
		s.store.Drop(id, file.ID)
	}
	return x, err
}

func (s *Studio) exchange(p Piece, slot int, file, name string) (*Exchange, error) {
	lib, err := s.library(p)
	if err != nil {
		return nil, err
	}
	for _, r := range refs(p) {
		if r.Slot != slot {
			continue
		}
		old, err := s.one(p, r, lib)
		if err != nil {
			return nil, err
		}
		r.File = file
		fresh, err := s.one(p, r, lib)
		if err != nil && r.Page > 1 { // it may have fewer pages now
			r.Page = 0
			fresh, err = s.one(p, r, lib)
		}
		if err != nil {
			return nil, &ErrInput{err.Error()}
		}
		return &Exchange{file, name, slot, old, fresh, recipe.Match(old, fresh)}, nil
	}
	return nil, &ErrInput{"This sheet is not in the piece any more."}
}

// Accept puts a proposed file in the place of its sheet; decisions stay with
// the shapes that they belong to. Undo brings the old file back.
func (s *Studio) Accept(id string, slot int, file string) error {
	p, err := s.Piece(id)
	if err != nil {
		return err
	}
	f, err := s.store.Sheet(p.ID, file)
	if err != nil || file == "" || f.Kind != store.Artwork {
		return &ErrInput{"The changed file is not there any more. Choose it once more."}
	}
	x, err := s.exchange(p, slot, file, f.Name)
	if err != nil {
		return err
	}
	prefix := SheetRef{Slot: slot}.prefix()
	shapes, groups := prefixed(x.Matching.Shapes, prefix), prefixed(x.Matching.Groups, prefix)
	groups[prefix+"sheet"] = prefix + "sheet"
	ours := func(k string) bool {
		i := strings.IndexByte(k, ':')
		if prefix == "" {
			return i <= 0 || strings.Trim(k[:i], "0123456789") != ""
		}
		return strings.HasPrefix(k, prefix)
	}
	return s.Change(id, "Exchange "+f.Name, func(d *Doc) error {
		d.Recipe = d.Recipe.Rekeyed(shapes, groups, func(k string) bool { return !ours(k) })
		list := append([]SheetRef(nil), refs(p)...)
		for i := range list {
			if list[i].Slot == slot {
				list[i].File, list[i].Name = file, f.Name
				if list[i].Page > x.New.Pages {
					list[i].Page = 0
				}
			}
		}
		d.Sheets = list
		// Parts go by colour: where a kept shape changed its colour and no
		// other has the old one, the part's measures follow.
		colors := map[string]bool{}
		for i := range x.New.Shapes {
			colors[x.New.Shapes[i].Color.Hex()] = true
		}
		after := map[string]string{}
		for i := range x.New.Shapes {
			after[x.New.Shapes[i].Key] = x.New.Shapes[i].Color.Hex()
		}
		parts := maps.Clone(d.Recipe.Parts)
		for i := range x.Old.Shapes {
			was := x.Old.Shapes[i].Color.Hex()
			now, ok := after[x.Matching.Shapes[x.Old.Shapes[i].Key]]
			if part, has := parts[was]; ok && has && !colors[was] {
				if _, taken := parts[now]; !taken {
					parts[now] = part
				}
			}
		}
		d.Recipe.Parts = parts
		return nil
	})
}

// Decline forgets a proposed file.
func (s *Studio) Decline(id, file string) error { return s.store.Drop(id, file) }

func prefixed(m map[string]string, prefix string) map[string]string {
	out := map[string]string{}
	for k, v := range m {
		out[prefix+k] = prefix + v
	}
	return out
}

// Duplicate copies a piece with its files and its decisions in force.
func (s *Studio) Duplicate(id string) (string, error) {
	p, err := s.Piece(id)
	if err != nil {
		return "", err
	}
	var files []store.Sheet
	copyOf := func(file string) (string, string, error) {
		f, err := s.store.Sheet(id, file)
		if err != nil {
			return "", "", err
		}
		f.ID = newID()
		files = append(files, f)
		return f.ID, f.Name, nil
	}
	list := append([]SheetRef(nil), refs(p)...)
	for i := range list {
		if list[i].File, list[i].Name, err = copyOf(list[i].File); err != nil {
			return "", err
		}
	}
	fonts := append([]FontRef(nil), p.Doc.Fonts...)
	for i := range fonts {
		if fonts[i].File, _, err = copyOf(fonts[i].File); err != nil {
			return "", err
		}
	}
	p.Doc.Sheets, p.Doc.Fonts = list, fonts
	p.Doc.Name += " (copy)"
	return s.add(p.Doc, files, "Copied")
}

// Sheets returns the sheets of a piece and how many pages each file has, 0
// where the format has none.
func (s *Studio) Sheets(p Piece) ([]SheetRef, []int, error) {
	lib, err := s.library(p)
	if err != nil {
		return nil, nil, err
	}
	list := append([]SheetRef(nil), refs(p)...)
	pages := make([]int, len(list))
	for i := range list {
		one, err := s.one(p, list[i], lib)
		if err != nil {
			return nil, nil, err
		}
		pages[i] = one.Pages
		if list[i].Name == "" {
			list[i].Name = one.Name
		}
	}
	return list, pages, nil
}
