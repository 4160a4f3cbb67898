package studio

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"bildhauer/core/terms"

	"bildhauer/core/recipe"
	"bildhauer/store"
)

// mostVersions bounds the versions of a piece.
const mostVersions = 200

// Version is a state of a piece that is kept under a name.
type Version struct {
	ID   string
	Name string
	Made time.Time
}

// Versions returns those of a piece, newest first.
func (s *Studio) Versions(ctx context.Context, piece string) ([]Version, error) {
	if _, err := s.Piece(ctx, piece); err != nil {
		return nil, err
	}
	list, err := s.store.Versions(ctx, piece)
	if err != nil {
		return nil, err
	}
	out := make([]Version, len(list))
	for i, v := range list {
		out[i] = Version{v.ID, v.Name, time.UnixMilli(v.CreatedAt)}
	}
	return out, nil
}

// KeepVersion keeps the piece as it is under a name.
func (s *Studio) KeepVersion(ctx context.Context, piece, name string) (Version, error) {
	p, err := s.Piece(ctx, piece)
	if err != nil {
		return Version{}, err
	}
	name = strings.TrimSpace(name)
	if name == "" {
		return Version{}, input("give the version a name")
	}
	if err := terms.Of("name").Check(float64(len([]rune(name)))); err != nil {
		return Version{}, input("%v", err)
	}
	doc, err := json.Marshal(p.Recipe)
	if err != nil {
		return Version{}, err
	}
	v := store.Version{ID: newID(), PieceID: piece, Name: name, Doc: doc}
	err = s.store.AddVersion(ctx, v, mostVersions)
	if errors.Is(err, store.ErrMany) {
		return Version{}, errManyVersions
	}
	return Version{v.ID, v.Name, time.Now()}, err
}

var errManyVersions = input("a piece keeps at most %d versions. Take one away first", mostVersions)

// DropVersion takes a version away; it waits to be brought back (BringBack).
func (s *Studio) DropVersion(ctx context.Context, piece, id string) error {
	return s.store.DropVersion(ctx, piece, id)
}

// VersionPiece returns a piece as a version has it.
func (s *Studio) VersionPiece(ctx context.Context, piece, id string) (Piece, error) {
	p, err := s.Look(ctx, piece)
	if err != nil {
		return p, err
	}
	v, err := s.store.Version(ctx, piece, id)
	if err != nil {
		return p, err
	}
	if p.Recipe, err = recipe.Open(v.Doc); err != nil {
		return p, &ErrDamaged{err}
	}
	return p, nil
}

// GoBack makes a version the state in force, as a new step that can be undone.
func (s *Studio) GoBack(ctx context.Context, piece, id string) (Piece, error) {
	for range tries {
		p, err := s.Piece(ctx, piece)
		if err != nil {
			return p, err
		}
		v, err := s.store.Version(ctx, piece, id)
		if err != nil {
			return p, err
		}
		then, err := recipe.Open(v.Doc)
		if err != nil {
			return p, &ErrDamaged{err}
		}
		doc, same, err := document(p.Recipe, then)
		if err != nil || same {
			return p, err
		}
		rev, err := s.store.Push(ctx, piece, p.Rev, labelOf("Back to "+v.Name), doc)
		if errors.Is(err, store.ErrConflict) {
			continue
		}
		if err != nil {
			return p, err
		}
		s.bus.revision(piece, rev)
		return s.Piece(ctx, piece)
	}
	return Piece{}, &ErrStale{"This piece is being changed by others all the time. Try once more."}
}

// Difference is a decision that two states of a piece do not share.
type Difference struct {
	Path string `json:"path"` // of the decision in the document
	Then string `json:"then"` // "" where there was none
	Now  string `json:"now"`
}

// mostDifferences bounds what is told.
const mostDifferences = 300

// Compare tells what differs between a version and the piece as it is, and how many decisions
// that are.
func (s *Studio) Compare(ctx context.Context, piece, id string) (list []Difference, all int, err error) {
	now, err := s.Look(ctx, piece)
	if err != nil {
		return nil, 0, err
	}
	then, err := s.VersionPiece(ctx, piece, id)
	if err != nil {
		return nil, 0, err
	}
	a, err := leaves(then.Recipe)
	if err != nil {
		return nil, 0, err
	}
	b, err := leaves(now.Recipe)
	if err != nil {
		return nil, 0, err
	}
	var paths []string
	for p := range a {
		paths = append(paths, p)
	}
	for p := range b {
		if _, both := a[p]; !both {
			paths = append(paths, p)
		}
	}
	slices.Sort(paths)
	for _, p := range paths {
		if a[p] == b[p] {
			continue
		}
		if all++; len(list) < mostDifferences {
			list = append(list, Difference{p, a[p], b[p]})
		}
	}
	return list, all, nil
}

// leaves returns the single decisions of a document by their paths.
func leaves(r recipe.Recipe) (map[string]string, error) {
	raw, err := json.Marshal(r)
	if err != nil {
		return nil, err
	}
	var v any
	dec := json.NewDecoder(bytes.NewReader(raw))
	dec.UseNumber()
	if err := dec.Decode(&v); err != nil {
		return nil, err
	}
	out := map[string]string{}
	var walk func(path string, v any)
	walk = func(path string, v any) {
		under := func(key string) string {
			if path == "" {
				return key
			}
			return path + " › " + key
		}
		switch v := v.(type) {
		case map[string]any:
			for k, e := range v {
				walk(under(k), e)
			}
		case []any:
			for i, e := range v {
				key := strconv.Itoa(i + 1)
				if m, ok := e.(map[string]any); ok { // parts and the like have names
					if name, ok := m["name"].(string); ok && name != "" {
						key += " " + name
					}
				}
				walk(under(key), e)
			}
		default:
			out[path] = fmt.Sprint(v)
		}
	}
	walk("", v)
	return out, nil
}
