package studio

import (
	"context"
	"encoding/json"
	"errors"
	"path/filepath"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"bildhauer/core/terms"

	"bildhauer/core/artwork"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/store"
)

// Piece is a piece with its decisions in force.
type Piece struct {
	ID      string
	Recipe  recipe.Recipe
	Rev     int64  // revision in force
	Undo    string // what undo would take back, empty for nothing
	Redo    string
	Updated time.Time

	loose func(file string) ([]byte, error) // opens the files of one that is not kept
}

// Listed is an entry of the list of pieces.
type Listed struct {
	Piece
	Damage string // why its decisions can't be read, "" when they can
}

// Pieces returns all pieces, newest change first. One whose document is damaged
// is listed with the reason and keeps nobody from the others.
func (s *Studio) Pieces(ctx context.Context) ([]Listed, error) {
	list, err := s.store.Pieces(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]Listed, 0, len(list))
	for _, p := range list {
		piece, err := s.look(ctx, p)
		var bad *ErrDamaged
		switch {
		case errors.Is(err, store.ErrNotFound): // deleted for good meanwhile
			continue
		case errors.As(err, &bad):
			piece.ID, piece.Updated = p.ID, time.UnixMilli(p.UpdatedAt)
			out = append(out, Listed{piece, bad.Error()})
		case err != nil:
			return nil, err
		default:
			out = append(out, Listed{piece, ""})
		}
	}
	return out, nil
}

// ErrDamaged is returned for a piece whose document can't be read.
type ErrDamaged struct{ err error }

func (e *ErrDamaged) Error() string {
	return "The decisions of this piece can't be read: " + e.err.Error() + ". Undo may bring back those of before."
}

// Unwrap returns what is wrong with the document.
func (e *ErrDamaged) Unwrap() error { return e.err }

// Piece returns one piece. It returns store.ErrNotFound for none and for
// deleted ones, and *ErrDamaged.
func (s *Studio) Piece(ctx context.Context, id string) (Piece, error) {
	p, err := s.store.Piece(ctx, id)
	if err != nil {
		return Piece{}, err
	}
	if p.DeletedAt.Valid {
		return Piece{}, store.ErrNotFound
	}
	return s.look(ctx, p)
}

// Look returns one piece even when it is deleted, for pictures of it.
func (s *Studio) Look(ctx context.Context, id string) (Piece, error) {
	p, err := s.store.Piece(ctx, id)
	if err != nil {
		return Piece{}, err
	}
	return s.look(ctx, p)
}

func (s *Studio) look(ctx context.Context, p store.Piece) (Piece, error) {
	h, err := s.store.Head(ctx, p.ID)
	if err != nil {
		return Piece{}, err
	}
	out := Piece{ID: p.ID, Undo: h.Undo, Redo: h.Redo, Updated: time.UnixMilli(p.UpdatedAt), Rev: h.Rev}
	if out.Recipe, err = recipe.Open(h.Doc); err != nil {
		return out, &ErrDamaged{err}
	}
	if out.Recipe.Name == "" {
		out.Recipe.Name = "Untitled"
	}
	if len(out.Recipe.Sheets.List) == 0 { // of the first days: the only file
		f, err := s.store.File(ctx, p.ID, "")
		if err != nil {
			return out, err
		}
		out.Recipe.Sheets.List = []recipe.Sheet{{Slot: 1, File: f.ID, Name: f.Name}}
	}
	return out, nil
}

// File is an artwork or font file that comes in.
type File struct {
	Name string
	Data []byte
}

// cleanName returns the last part of a file's name, shortened where it is
// longer than any screen.
func cleanName(name string) string {
	name = filepath.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if r < ' ' {
			return ' '
		}
		return r
	}, strings.ToValidUTF8(name, "?"))
	if utf8.RuneCountInString(name) > int(terms.Of("name").Max) {
		r := []rune(name)
		ext := []rune(filepath.Ext(name))
		keep := int(terms.Of("name").Max) - min(len(ext), 12) - 1
		name = string(r[:keep]) + "…" + string(ext[:min(len(ext), 12)])
	}
	return name
}

func pieceName(file string) string {
	name := strings.TrimSuffix(file, filepath.Ext(file))
	name = strings.TrimSpace(strings.NewReplacer("_", " ", "-", " ").Replace(name))
	if name == "" {
		return "Untitled"
	}
	r := []rune(name)
	return strings.ToUpper(string(r[:1])) + string(r[1:min(len(r), 80)])
}

// resolveAtOnce is up to how many nodes new artwork is resolved before it is
// kept, so that what encloses nothing is refused. Larger artwork takes its
// time; that is a build with progress, not part of the upload.
const resolveAtOnce = 100_000

// Create makes a piece of one or several artwork files. They are read first;
// what can't be read makes no piece.
func (s *Studio) Create(ctx context.Context, files ...File) (string, error) {
	if n := float64(len(files)); terms.Of("sheets").Check(n) != nil {
		return "", input("a piece is made of 1 to %g files", terms.Of("sheets").Max)
	}
	r := recipe.New()
	var kept []store.File
	data := map[string][]byte{}
	for i, f := range files {
		file := store.File{ID: newID(), Name: cleanName(f.Name), Data: f.Data}
		kept = append(kept, file)
		data[file.ID] = f.Data
		r.Sheets.List = append(r.Sheets.List, recipe.Sheet{Slot: i + 1, File: file.ID, Name: file.Name})
	}
	r.Name = pieceName(kept[0].Name)
	line := s.line(ctx, Piece{Recipe: r})
	line.Recipe = &r
	line.Open = func(id string) stages.Source {
		return s.source(id, func() ([]byte, error) { return data[id], nil })
	}
	var first *artwork.Sheet
	for i := range r.Sheets.List {
		sheet, err := line.Sheet(ctx, r.Sheets.List[i])
		if err != nil {
			return "", err
		}
		if i == 0 {
			first = sheet.Value
		}
		r.Sheets.List[i].Beside = !sameSize(sheet.Value, first)
	}
	joined, err := line.Joined(ctx)
	if err != nil {
		return "", err
	}
	if shadesOf(joined.Value.Sheet) > recipe.ManyColours {
		r.Parts.Palette.Count = recipe.ManyColours
	}
	if joined.Value.Sheet.Nodes() <= resolveAtOnce {
		var p *stages.Problem
		if _, err := line.RegionsOf(ctx, joined); errors.As(err, &p) &&
			p.Kind != stages.AllLeftOut { // Intake can take shapes in
			return "", input("%s: %s", kept[0].Name, p.Error())
		} else if err != nil && p == nil {
			return "", err
		}
	}
	return s.add(ctx, r, kept, "Artwork read")
}

// shadesOf counts the colours of the shapes that take part.
func shadesOf(s *artwork.Sheet) int {
	seen := map[artwork.Color]bool{}
	for i := range s.Shapes {
		if s.Starts(i) {
			seen[s.Shapes[i].Color] = true
		}
	}
	return len(seen)
}

// sameSize reports whether two pages differ by less than a fiftieth.
func sameSize(a, b *artwork.Sheet) bool {
	near := func(x, y float64) bool { return x-y < 0.01*(x+y) && y-x < 0.01*(x+y) }
	return near(a.Page.W(), b.Page.W()) && near(a.Page.H(), b.Page.H())
}

func (s *Studio) add(ctx context.Context, r recipe.Recipe, files []store.File, label string) (string, error) {
	raw, err := json.Marshal(r)
	if err != nil {
		return "", err
	}
	id := newID()
	return id, s.store.Create(ctx, id, files, label, raw)
}

// Duplicate copies a piece with its decisions in force and the files that they name; admit is
// asked with the bytes that would stay.
func (s *Studio) Duplicate(ctx context.Context, id string, admit func(bytes int64) error) (string, error) {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return "", err
	}
	p.Recipe.Name = shortened(p.Recipe.Name, " (copy)")
	doc, err := json.Marshal(p.Recipe)
	if err != nil {
		return "", err
	}
	list, err := s.store.Files(ctx, id)
	if err != nil {
		return "", err
	}
	list = slices.DeleteFunc(list, func(f store.File) bool { return !named(f.ID, doc) })
	stays := int64(len(doc))
	for _, f := range list {
		stays += f.Bytes
	}
	if err := admit(stays); err != nil {
		return "", err
	}
	free, err := s.queue.Enter(ctx, stays)
	if err != nil {
		return "", err
	}
	defer free()
	var files []store.File
	var renamed []string
	for _, f := range list {
		if f, err = s.store.File(ctx, id, f.ID); err != nil {
			return "", err
		}
		renamed = append(renamed, `"`+f.ID+`"`)
		f.ID = newID()
		renamed = append(renamed, `"`+f.ID+`"`)
		files = append(files, f)
	}
	r, err := recipe.Open([]byte(strings.NewReplacer(renamed...).Replace(string(doc))))
	if err != nil {
		return "", err
	}
	return s.add(ctx, r, files, "Copied")
}

// shortened puts an ending to a name that still fits.
func shortened(name, ending string) string {
	r := []rune(name)
	return string(r[:min(len(r), int(terms.Of("name").Max)-len(ending))]) + ending
}

// Delete puts a piece away; it waits to be brought back (BringBack).
func (s *Studio) Delete(ctx context.Context, id string) error {
	return s.store.SetDeleted(ctx, id, true)
}
