package stages

import (
	"context"

	"bildhauer/core/artwork"
	"bildhauer/core/mesh"
	"bildhauer/core/progress"
	"bildhauer/core/read/font"
	"bildhauer/core/recipe"
)

// Line is the stages one after the other, for the files and decisions of one
// piece.
type Line struct {
	Keep   Keeper
	Recipe *recipe.Recipe
	Open   func(file string) Source // a file of the piece by its id
}

// Fonts reads the fonts that were added to the piece. One that can't be read
// any more is passed over: it was read when it was added.
func (l *Line) Fonts(ctx context.Context) ([]Made[*font.Face], error) {
	var out []Made[*font.Face]
	for _, f := range l.Recipe.Sheets.Fonts {
		face, err := Font.Make(ctx, l.Keep, FontInput{l.Open(f.File)})
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if err == nil {
			out = append(out, face)
		}
	}
	return out, nil
}

// Sheet reads one file of the piece.
func (l *Line) Sheet(ctx context.Context, s recipe.Sheet) (Made[*artwork.Sheet], error) {
	fonts, err := l.Fonts(ctx)
	if err != nil {
		return Made[*artwork.Sheet]{}, err
	}
	progress.Set(ctx, "Reading "+s.Name, 0)
	return Read.Make(ctx, l.Keep, ReadInput{File: l.Open(s.File), Name: s.Name, Page: s.Page, Trace: traceOf(s.Trace), Fonts: fonts})
}

// Joined returns the artwork of the piece, several sheets put together.
func (l *Line) Joined(ctx context.Context) (Made[*Joined], error) {
	var in JoinInput
	for _, s := range l.Recipe.Sheets.All() {
		sheet, err := l.Sheet(ctx, s)
		if err != nil {
			return Made[*Joined]{}, err
		}
		in.Sheets = append(in.Sheets, JoinSheet{sheet, s.Slot, s.Beside, s.Shift})
	}
	return Join.Make(ctx, l.Keep, in)
}

// Regions returns the outlines of all parts at their size.
func (l *Line) Regions(ctx context.Context) (Made[*Regions], error) {
	joined, err := l.Joined(ctx)
	if err != nil {
		return Made[*Regions]{}, err
	}
	return l.RegionsOf(ctx, joined)
}

// RegionsOf does the same for artwork that was joined already.
func (l *Line) RegionsOf(ctx context.Context, joined Made[*Joined]) (Made[*Regions], error) {
	mended, err := l.MendedOf(ctx, joined)
	if err != nil {
		return Made[*Regions]{}, err
	}
	return l.RegionsOfMended(ctx, mended)
}

// RegionsOfMended does the same for artwork that was mended already.
func (l *Line) RegionsOfMended(ctx context.Context, mended *Mended) (Made[*Regions], error) {
	sized, err := l.sizedOf(ctx, mended)
	if err != nil {
		return Made[*Regions]{}, err
	}
	progress.Set(ctx, "Resolving the outlines", 0)
	return Resolve.Make(ctx, l.Keep, regionsInput(sized, l.Recipe))
}

// sizedOf brings mended artwork to its size.
func (l *Line) sizedOf(ctx context.Context, mended *Mended) (Made[*Sized], error) {
	chosen, err := l.chosen(ctx, mended)
	if err != nil {
		return Made[*Sized]{}, err
	}
	size := l.Recipe.Size
	return Size.Make(ctx, l.Keep, SizeInput{chosen, size.By, size.MM, size.Tolerance, size.Between, size.Ratio()})
}

// Check examines a solid; crossings are looked for on request.
func (l *Line) Check(ctx context.Context, s Made[*Solid], crossings bool) (mesh.Report, error) {
	r, err := Check.Make(ctx, l.Keep, CheckInput{s, crossings})
	return r.Value, err
}
