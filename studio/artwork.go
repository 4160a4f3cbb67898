package studio

import (
	"context"
	"errors"

	"bildhauer/core/artwork"
	"bildhauer/core/read/font"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/store"
)

// line returns the stages for a piece. Files are read from the store within
// the context of the work that asks for them.
func (s *Studio) line(ctx context.Context, p Piece) *stages.Line {
	load := context.WithoutCancel(ctx) // a flight may outlive who began it
	return &stages.Line{Keep: s.flights, Recipe: &p.Recipe, Open: func(file string) stages.Source {
		return s.source(p.ID+"/"+file, func() ([]byte, error) {
			if p.loose != nil {
				return p.loose(file)
			}
			f, err := s.store.File(load, p.ID, file)
			return f.Data, err
		})
	}}
}

// source is the bytes of a file, read by the studio's reader.
func (s *Studio) source(id string, load func() ([]byte, error)) stages.Source {
	out := stages.Source{ID: id, Load: load}
	if s.reader != nil {
		out.Read = s.reader.Sheet
	}
	return out
}

// Artwork returns the sheets of a piece put together.
func (s *Studio) Artwork(ctx context.Context, p Piece) (*stages.Joined, error) {
	j, err := s.line(ctx, p).Joined(ctx)
	return j.Value, err
}

// Original returns the bytes of the file of a sheet.
func (s *Studio) Original(ctx context.Context, id string, slot int) ([]byte, error) {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return nil, err
	}
	i := p.Recipe.Sheets.Find(slot)
	if i < 0 {
		return nil, store.ErrNotFound
	}
	return s.line(ctx, p).Open(p.Recipe.Sheets.All()[i].File).Load()
}

// AddSheet reads another artwork file into a piece.
func (s *Studio) AddSheet(ctx context.Context, id string, base int64, f File) (Piece, error) {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return p, err
	}
	line := s.line(ctx, p)
	file := store.File{ID: newID(), Name: cleanName(f.Name), Data: f.Data}
	sheet, err := s.readNew(ctx, line, p, file, 0)
	if err != nil {
		return p, err
	}
	first, err := line.Sheet(ctx, p.Recipe.Sheets.All()[0])
	if err != nil {
		return p, err
	}
	if err := s.store.AddFile(ctx, id, file); err != nil {
		return p, err
	}
	add := &recipe.AddSheet{
		Sheet: recipe.Sheet{File: file.ID, Name: file.Name, Beside: !sameSize(sheet, first.Value)},
	}
	return s.changeWith(
		ctx,
		id,
		base,
		file.ID,
		recipe.Change{Label: "Add " + file.Name, Edits: []recipe.Edit{add}},
	)
}

// readNew reads a file that is not in the store yet, under the key that it
// will have there.
func (s *Studio) readNew(
	ctx context.Context,
	line *stages.Line,
	p Piece,
	f store.File,
	page int,
) (*artwork.Sheet, error) {
	fonts, err := line.Fonts(ctx)
	if err != nil {
		return nil, err
	}
	source := s.source(p.ID+"/"+f.ID, func() ([]byte, error) { return f.Data, nil })
	sheet, err := stages.Read.Make(
		ctx,
		s.flights,
		stages.ReadInput{File: source, Name: f.Name, Page: page, Fonts: fonts},
	)
	return sheet.Value, err
}

// changeWith makes a change that brings a file, and forgets the file when the
// change is refused.
func (s *Studio) changeWith(
	ctx context.Context,
	id string,
	base int64,
	file string,
	c recipe.Change,
) (Piece, error) {
	p, err := s.Change(ctx, id, base, c)
	if err != nil {
		s.store.DropFile(context.WithoutCancel(ctx), id, file)
	}
	return p, err
}

// AddFont takes a font into a piece; its text is set in it from then on.
func (s *Studio) AddFont(ctx context.Context, id string, base int64, f File) (Piece, error) {
	name := cleanName(f.Name)
	if s.reader != nil { // what it does to a reader it must not do here
		if err := s.reader.Font(ctx, f.Data); err != nil {
			return Piece{}, input("%s %v", name, err)
		}
	}
	face, err := font.ParseFace(f.Data)
	if err != nil {
		return Piece{}, input("%s %v", name, err)
	}
	p, err := s.Piece(ctx, id)
	if err != nil {
		return p, err
	}
	file := store.File{Kind: store.Font, ID: newID(), Name: name, Data: f.Data}
	if err := s.store.AddFile(ctx, p.ID, file); err != nil {
		return p, err
	}
	add := &recipe.AddFont{Font: recipe.Font{File: file.ID, Name: name, Family: face.Family}}
	return s.changeWith(
		ctx,
		id,
		base,
		file.ID,
		recipe.Change{Label: "Add the font " + face.Family, Edits: []recipe.Edit{add}},
	)
}

// Exchange is a changed file that waits to take the place of a sheet.
type Exchange struct {
	File, Name string
	Sheet      recipe.Sheet // that it is for
	Page       int          // of the new file
	Old, New   *artwork.Sheet
	Matching   artwork.Matching
}

// Propose reads a changed file and matches its shapes with those of the sheet
// in a slot. Nothing changes until it is accepted.
func (s *Studio) Propose(ctx context.Context, id string, slot int, f File) (*Exchange, error) {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return nil, err
	}
	file := store.File{ID: newID(), Name: cleanName(f.Name), Data: f.Data}
	x, err := s.exchange(ctx, p, slot, file)
	if err != nil {
		return nil, err
	}
	return x, s.store.AddFile(ctx, id, file)
}

func (s *Studio) exchange(ctx context.Context, p Piece, slot int, file store.File) (*Exchange, error) {
	i := p.Recipe.Sheets.Find(slot)
	if i < 0 {
		return nil, input("this sheet is not in the piece any more")
	}
	x := &Exchange{File: file.ID, Name: file.Name, Sheet: p.Recipe.Sheets.All()[i]}
	line := s.line(ctx, p)
	old, err := line.Sheet(ctx, x.Sheet)
	if err != nil {
		return nil, err
	}
	x.Old, x.Page = old.Value, x.Sheet.Page
	x.New, err = s.readNew(ctx, line, p, file, x.Page)
	if err != nil && x.Page > 1 { // it may have fewer pages now
		x.Page = 0
		x.New, err = s.readNew(ctx, line, p, file, 0)
	}
	if err != nil {
		return nil, err
	}
	x.Matching = artwork.Match(x.Old, x.New)
	return x, nil
}

// Accept puts a proposed file in the place of its sheet; decisions stay with
// the shapes that they belong to. Undo brings the old file back.
func (s *Studio) Accept(ctx context.Context, id string, base int64, slot int, file string) (Piece, error) {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return p, err
	}
	f, err := s.store.File(ctx, p.ID, file)
	if errors.Is(err, store.ErrNotFound) || file == "" || err == nil && f.Kind != store.Artwork {
		return p, input("the changed file is not there any more. Choose it once more")
	}
	if err != nil {
		return p, err
	}
	x, err := s.exchange(ctx, p, slot, f)
	if err != nil {
		return p, err
	}
	edit := &recipe.ExchangeSheet{
		Slot:     slot,
		Replaces: x.Sheet.File,
		File:     file,
		Name:     f.Name,
		Page:     x.Page,
		Old:      x.Old,
		New:      x.New,
		Matching: x.Matching,
	}
	return s.Change(ctx, id, base, recipe.Change{Label: "Replace " + f.Name, Edits: []recipe.Edit{edit}})
}

// Decline forgets a proposed file.
func (s *Studio) Decline(ctx context.Context, id, file string) error {
	return s.store.DropFile(ctx, id, file)
}
