package studio

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"path"
	"strings"

	"bildhauer/core/read"
	"bildhauer/core/recipe"
	"bildhauer/store"
)

// A piece as one file is a ZIP:
//
//	piece.json        what follows, and the kind and version of the file
//	recipe.json       the decisions in force
//	versions/N.json   those of the versions, by their number in piece.json
//	files/ID          artwork, fonts and what else decisions refer to by ID
//
// Documents stand in it as they are, so that version control shows what changed.

const (
	bundleKind    = "bildhauer piece"
	bundleVersion = 1
)

type bundle struct {
	Kind     string           `json:"kind"`
	Version  int              `json:"version"`
	Name     string           `json:"name"`
	Files    []bundleFile     `json:"files"`
	Versions []bundledVersion `json:"versions,omitempty"`
}

type bundleFile struct {
	ID   string `json:"id"`
	Kind string `json:"kind"`
	Name string `json:"name"`
}

type bundledVersion struct {
	Name string `json:"name"`
	Made int64  `json:"made"` // ms since 1970
}

// What a bundle may hold, unpacked: the files of a piece are bounded one by one, too.
const (
	mostBundled  = 256 << 20 // bytes
	mostDocument = 8 << 20   // bytes of one document
	mostEntries  = 2000
)

// Bundle writes a piece with its artwork, fonts and versions as one file.
func (s *Studio) Bundle(ctx context.Context, piece string, w io.Writer) error {
	p, err := s.Piece(ctx, piece)
	if err != nil {
		return err
	}
	files, err := s.store.Files(ctx, piece)
	if err != nil {
		return err
	}
	versions, err := s.store.Versions(ctx, piece)
	if err != nil {
		return err
	}
	head := bundle{Kind: bundleKind, Version: bundleVersion, Name: p.Recipe.Name}
	for _, f := range files {
		head.Files = append(head.Files, bundleFile{f.ID, f.Kind, f.Name})
	}
	for _, v := range versions {
		head.Versions = append(head.Versions, bundledVersion{v.Name, v.CreatedAt})
	}
	z := zip.NewWriter(w)
	put := func(name string, data []byte) {
		if err != nil {
			return
		}
		var out io.Writer
		if out, err = z.Create(name); err == nil {
			_, err = out.Write(data)
		}
	}
	putJSON := func(name string, v any) {
		raw, failed := json.MarshalIndent(v, "", "  ")
		err = errors.Join(err, failed)
		put(name, raw)
	}
	putJSON("piece.json", head)
	putJSON("recipe.json", p.Recipe)
	for i, v := range versions {
		putJSON(fmt.Sprintf("versions/%d.json", i+1), json.RawMessage(v.Doc))
	}
	for _, f := range files {
		put("files/"+f.ID, f.Data)
	}
	return errors.Join(err, z.Close())
}

// IsBundle reports whether bytes may be a piece as one file.
func IsBundle(data []byte) bool { return bytes.HasPrefix(data, []byte("PK\x03\x04")) }

// Unbundle makes a piece of one that came as a file: all of it, or nothing with a sentence.
func (s *Studio) Unbundle(ctx context.Context, f File) (id string, err error) {
	name := cleanName(f.Name)
	bad := func(why string) error {
		return input("%s is not a piece of Bildhauer (%s). Take it out again where it comes from", name, why)
	}
	z, err := zip.NewReader(bytes.NewReader(f.Data), int64(len(f.Data)))
	if err != nil || len(z.File) > mostEntries {
		return "", bad("damaged, or another kind of ZIP")
	}
	left := int64(mostBundled)
	take := func(name string, most int64) ([]byte, error) {
		in, err := z.Open(name)
		if err != nil {
			return nil, bad(name + " is missing")
		}
		defer in.Close()
		data, err := io.ReadAll(io.LimitReader(in, min(most, left)+1))
		if err != nil {
			return nil, bad(name + " is damaged")
		}
		if left -= int64(len(data)); int64(len(data)) > most || left < 0 {
			return nil, bad(name + " is too large")
		}
		return data, nil
	}
	raw, err := take("piece.json", mostDocument)
	if err != nil {
		return "", err
	}
	var head bundle
	if json.Unmarshal(raw, &head) != nil || head.Kind != bundleKind {
		return "", bad("piece.json says something else")
	}
	if head.Version > bundleVersion {
		return "", input("%s was written by a newer Bildhauer. Open it with that one", name)
	}
	if len(head.Versions) > mostVersions || len(head.Files) > mostEntries {
		return "", bad("it has too many parts")
	}
	// Files get ids of their own here; documents name them by those.
	var files []store.File
	var renamed []string
	for _, b := range head.Files {
		if len(b.ID) < 8 || path.Base(b.ID) != b.ID {
			return "", bad("a file has no proper name")
		}
		data, err := take("files/"+b.ID, read.MaxBytes)
		if err != nil {
			return "", err
		}
		kept := store.File{ID: newID(), Kind: b.Kind, Name: cleanName(b.Name), Data: data}
		files = append(files, kept)
		renamed = append(renamed, `"`+b.ID+`"`, `"`+kept.ID+`"`)
	}
	ids := strings.NewReplacer(renamed...)
	document := func(name string) ([]byte, recipe.Recipe, error) {
		raw, err := take(name, mostDocument)
		if err != nil {
			return nil, recipe.Recipe{}, err
		}
		r, err := recipe.Open([]byte(ids.Replace(string(raw))))
		if err != nil {
			return nil, r, bad(name + ": " + err.Error())
		}
		doc, err := json.Marshal(r)
		return doc, r, err
	}
	doc, r, err := document("recipe.json")
	if err != nil {
		return "", err
	}
	for _, sh := range r.Sheets.All() {
		if !holds(files, sh.File) {
			return "", bad("the artwork " + sh.Name + " is missing")
		}
	}
	var versions []store.Version
	for i, v := range head.Versions {
		doc, _, err := document(fmt.Sprintf("versions/%d.json", i+1))
		if err != nil {
			return "", err
		}
		versions = append(versions, store.Version{ID: newID(), Name: labelOf(v.Name), Doc: doc, CreatedAt: v.Made})
	}
	id = newID()
	return id, s.store.Bring(ctx, id, files, "Bring "+name, doc, versions)
}

func holds(files []store.File, id string) bool {
	for _, f := range files {
		if f.ID == id {
			return true
		}
	}
	return false
}
