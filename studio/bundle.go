package studio

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"regexp"
	"slices"
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

// bundled is what goes into the file of a piece.
type bundled struct {
	piece    Piece
	files    []store.File // those that something names, without their data
	versions []store.Version
	bytes    int64 // of all
}

// named reports whether one of some documents names a file. What else a piece keeps for a while,
// such as a changed file that waits to be accepted, is not part of it.
func named(id string, docs ...[]byte) bool {
	return slices.ContainsFunc(docs, func(doc []byte) bool { return bytes.Contains(doc, []byte(`"`+id+`"`)) })
}

// toBundle looks for all that belongs to a piece.
func (s *Studio) toBundle(ctx context.Context, piece string) (b bundled, err error) {
	if b.piece, err = s.Piece(ctx, piece); err != nil {
		return b, err
	}
	if b.versions, err = s.store.Versions(ctx, piece); err != nil {
		return b, err
	}
	doc, err := json.Marshal(b.piece.Recipe)
	if err != nil {
		return b, err
	}
	docs := [][]byte{doc}
	for _, v := range b.versions {
		docs = append(docs, v.Doc)
	}
	files, err := s.store.Files(ctx, piece)
	if err != nil {
		return b, err
	}
	for _, f := range files {
		if named(f.ID, docs...) {
			b.files = append(b.files, f)
			b.bytes += f.Bytes
		}
	}
	for _, d := range docs {
		b.bytes += int64(len(d))
	}
	if b.bytes > mostBundled*9/10 { // what would not come in again does not go out
		return b, input("this piece holds %d MB of artwork with its versions; as one file it may have %d MB. Take versions or sheets away first",
			b.bytes>>20, mostBundled*9/10>>20)
	}
	return b, nil
}

// Bundle prepares to write a piece with its artwork, fonts and versions as one file.
func (s *Studio) Bundle(ctx context.Context, piece string) (write func(io.Writer) error, err error) {
	b, err := s.toBundle(ctx, piece)
	if err != nil {
		return nil, err
	}
	ctx = context.WithoutCancel(ctx) // the request is over when this is written
	return func(w io.Writer) error { return s.writeBundle(ctx, b, w) }, nil
}

func (s *Studio) writeBundle(ctx context.Context, b bundled, w io.Writer) (err error) {
	head := bundle{Kind: bundleKind, Version: bundleVersion, Name: b.piece.Recipe.Name}
	for _, f := range b.files {
		head.Files = append(head.Files, bundleFile{f.ID, f.Kind, f.Name})
	}
	for _, v := range b.versions {
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
	putJSON("recipe.json", b.piece.Recipe)
	for i, v := range b.versions {
		putJSON(fmt.Sprintf("versions/%d.json", i+1), json.RawMessage(v.Doc))
	}
	for _, f := range b.files {
		if err != nil {
			break
		}
		var whole store.File
		if whole, err = s.store.File(ctx, b.piece.ID, f.ID); err == nil {
			put("files/"+f.ID, whole.Data)
		}
	}
	return errors.Join(err, z.Close())
}

// IsBundle reports whether a file that begins with these bytes may be a piece as one file.
func IsBundle(begin []byte) bool { return bytes.HasPrefix(begin, []byte("PK\x03\x04")) }

// parcel is the file of a piece that comes in.
type parcel struct {
	name string // of the file
	zip  *zip.Reader
	size map[string]int64 // that entries say to have unpacked
}

func (p *parcel) bad(why string) error {
	return input("%s is not a piece of Bildhauer (%s). Drop artwork, or a file that came from \"The piece as one file\"", p.name, why)
}

// openParcel reads the list of what is in it and returns how much that is, unpacked.
func openParcel(name string, in io.ReaderAt, size int64) (p *parcel, all int64, err error) {
	p = &parcel{name: cleanName(name), size: map[string]int64{}}
	if p.zip, err = zip.NewReader(in, size); err != nil || len(p.zip.File) > mostEntries {
		return nil, 0, p.bad("damaged, or another kind of ZIP")
	}
	for _, f := range p.zip.File {
		if f.UncompressedSize64 > mostBundled || p.size[f.Name] > 0 {
			return nil, 0, p.bad(f.Name + " is too large or twice there")
		}
		p.size[f.Name] = int64(f.UncompressedSize64)
		all += int64(f.UncompressedSize64)
	}
	if all > mostBundled {
		return nil, 0, p.bad(fmt.Sprintf("it holds %d MB, %d MB is the most", all>>20, mostBundled>>20))
	}
	return p, all, nil
}

// take unpacks an entry; it never holds more than the entry says to have.
func (p *parcel) take(name string, most int64) ([]byte, error) {
	says, there := p.size[name]
	if !there {
		return nil, p.bad(name + " is missing")
	}
	if says > most {
		return nil, p.bad(name + " is too large")
	}
	in, err := p.zip.Open(name)
	if err != nil {
		return nil, p.bad(name + " is damaged")
	}
	defer in.Close()
	data, err := io.ReadAll(io.LimitReader(in, says+1))
	if err != nil || int64(len(data)) != says {
		return nil, p.bad(name + " is damaged")
	}
	return data, nil
}

// head reads what is told about the piece.
func (p *parcel) head() (head bundle, err error) {
	raw, err := p.take("piece.json", mostDocument)
	if err != nil {
		return head, err
	}
	if json.Unmarshal(raw, &head) != nil || head.Kind != bundleKind {
		return head, p.bad("piece.json says something else")
	}
	if head.Version > bundleVersion {
		return head, input("%s was written by a newer Bildhauer. Open it with that one", p.name)
	}
	if len(head.Versions) > mostVersions || len(head.Files) > mostEntries {
		return head, p.bad("it has too many parts")
	}
	for _, f := range head.Files {
		if !properID.MatchString(f.ID) {
			return head, p.bad("a file has no proper name")
		}
	}
	return head, nil
}

// properID is how newID writes them, so that no other text of a document is taken for one.
var properID = regexp.MustCompile(`^[0-9a-f]{16}$`)

// Unbundle makes a piece of one that came as a file: all of it, or nothing with a sentence. It is
// let in by what it unpacks to, through the same gate as all work; admit is asked with the bytes
// that would stay. Files that nothing in it names are left out.
func (s *Studio) Unbundle(ctx context.Context, name string, in io.ReaderAt, size int64, admit func(bytes int64) error) (id string, err error) {
	p, all, err := openParcel(name, in, size)
	if err != nil {
		return "", err
	}
	free, err := s.queue.Enter(ctx, 2*all)
	if err != nil {
		return "", err
	}
	defer free()
	head, err := p.head()
	if err != nil {
		return "", err
	}
	// Files get ids of their own here; documents name them by those.
	var renamed []string
	ids := make([]string, len(head.Files))
	for i, f := range head.Files {
		ids[i] = newID()
		renamed = append(renamed, `"`+f.ID+`"`, `"`+ids[i]+`"`)
	}
	anew := strings.NewReplacer(renamed...)
	document := func(name string) ([]byte, recipe.Recipe, error) {
		raw, err := p.take(name, mostDocument)
		if err != nil {
			return nil, recipe.Recipe{}, err
		}
		r, err := recipe.Open([]byte(anew.Replace(string(raw))))
		if err != nil {
			return nil, r, p.bad(name + ": " + err.Error())
		}
		doc, err := json.Marshal(r)
		return doc, r, err
	}
	doc, r, err := document("recipe.json")
	if err != nil {
		return "", err
	}
	docs := [][]byte{doc}
	var versions []store.Version
	for i, v := range head.Versions {
		doc, _, err := document(fmt.Sprintf("versions/%d.json", i+1))
		if err != nil {
			return "", err
		}
		docs = append(docs, doc)
		versions = append(versions, store.Version{ID: newID(), Name: labelOf(v.Name), Doc: doc, CreatedAt: v.Made})
	}
	var files []store.File
	stays := int64(0)
	for i, f := range head.Files {
		if !named(ids[i], docs...) {
			continue
		}
		data, err := p.take("files/"+f.ID, read.MaxBytes)
		if err != nil {
			return "", err
		}
		files = append(files, store.File{ID: ids[i], Kind: f.Kind, Name: cleanName(f.Name), Data: data})
		stays += int64(len(data))
	}
	for _, sh := range r.Sheets.All() {
		if !holds(files, sh.File) {
			return "", p.bad("the artwork " + sh.Name + " is missing")
		}
	}
	for _, d := range docs {
		stays += int64(len(d))
	}
	if err := admit(stays); err != nil {
		return "", err
	}
	id = newID()
	return id, s.store.Bring(ctx, id, files, "Bring "+p.name, doc, versions)
}

func holds(files []store.File, id string) bool {
	return slices.ContainsFunc(files, func(f store.File) bool { return f.ID == id })
}
