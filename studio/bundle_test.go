package studio

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"hash/crc32"
	"io"
	"os"
	"path/filepath"
	"reflect"
	"strings"
	"testing"

	"bildhauer/core/recipe"
	"bildhauer/store"
)

// TestBundlesAreLetInByWhatTheyHold gives files that unpack to much, or to what nothing names: only
// what is named stays, by its full size, and none of it where it is not admitted.
func TestBundlesAreLetInByWhatTheyHold(t *testing.T) {
	s, id, _ := versioned(t)
	// A changed file that waits is nobody's yet, and a panorama is named by the scene alone.
	if err := s.store.AddFile(t.Context(), id, store.File{ID: newID(), Name: "draft.svg", Data: make([]byte, 5<<20)}); err != nil {
		t.Fatal(err)
	}
	sky := store.File{ID: newID(), Kind: store.Panorama, Name: "sky.hdr", Data: bytes.Repeat([]byte("sky"), 1<<20)}
	if err := s.store.AddFile(t.Context(), id, sky); err != nil {
		t.Fatal(err)
	}
	change(t, s, id, "Sky", &recipe.SetScene{Surroundings: &recipe.Surroundings{File: sky.ID, Name: sky.Name}})
	var b bytes.Buffer
	bundleInto(t, s, id, &b)
	if b.Len() > 1<<20 {
		t.Errorf("the file has %d bytes: what nothing names is in it", b.Len())
	}
	// Thirty files of 1 MB that nothing names come along in 30 kB.
	var padded bytes.Buffer
	z := zip.NewWriter(&padded)
	in, _ := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	for _, f := range in.File {
		r, _ := f.Open()
		data, _ := io.ReadAll(r)
		if f.Name == "piece.json" {
			var head bundle
			json.Unmarshal(data, &head)
			for i := range 30 {
				head.Files = append(head.Files, bundleFile{ID: fmt.Sprintf("%016x", i), Kind: "artwork", Name: "pad.svg"})
			}
			data, _ = json.Marshal(head)
		}
		w, _ := z.Create(f.Name)
		w.Write(data)
	}
	for i := range 30 {
		w, _ := z.Create(fmt.Sprintf("files/%016x", i))
		w.Write(make([]byte, 1<<20))
	}
	z.Close()
	asked := int64(0)
	to, err := New(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer to.Close()
	bring := func(data []byte, admit func(int64) error) (string, error) {
		return to.Unbundle(t.Context(), "sign.zip", bytes.NewReader(data), int64(len(data)), admit)
	}
	no := errors.New("no")
	if _, err := bring(padded.Bytes(), func(n int64) error { asked = n; return no }); !errors.Is(err, no) {
		t.Errorf("not admitted: %v", err)
	}
	if asked < 3<<20 || asked > 4<<20 {
		t.Errorf("%d bytes were asked for, 3 MB of the panorama and little more stay", asked)
	}
	if list, _ := to.Pieces(t.Context()); len(list) != 0 {
		t.Error("a piece that was not admitted")
	}
	made, err := bring(padded.Bytes(), anyBytes)
	if err != nil {
		t.Fatal(err)
	}
	if st, err := os.Stat(filepath.Join(to.home, "bildhauer.db")); err != nil || st.Size() > 8<<20 {
		t.Errorf("the database has %d bytes, %v", st.Size(), err)
	}
	p := piece(t, to, made)
	if f, err := to.store.File(t.Context(), made, p.Recipe.Scene.Surroundings.File); err != nil || !bytes.Equal(f.Data, sky.Data) {
		t.Errorf("the panorama: %v", err)
	}
	// Of a copy the bytes count as well, and its panorama is there.
	if _, err := to.Duplicate(t.Context(), made, func(n int64) error { asked = n; return no }); !errors.Is(err, no) || asked < 3<<20 {
		t.Errorf("a copy of %d bytes: %v", asked, err)
	}
	copied, err := to.Duplicate(t.Context(), made, anyBytes)
	if err != nil {
		t.Fatal(err)
	}
	p = piece(t, to, copied)
	if f, err := to.store.File(t.Context(), copied, p.Recipe.Scene.Surroundings.File); err != nil || !bytes.Equal(f.Data, sky.Data) {
		t.Errorf("the panorama of the copy: %v", err)
	}
	// An entry that says to be smaller than it is, and one that is larger than anything may be.
	for name, says := range map[string]uint64{"smaller": 5, "too large": mostBundled + 1} {
		if _, err := bring(lying(b.Bytes(), says), anyBytes); err == nil || !strings.Contains(err.Error(), "is not a piece") {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// lying is a bundle whose recipe says to have so many bytes.
func lying(data []byte, says uint64) []byte {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	in, _ := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	for _, f := range in.File {
		r, _ := f.Open()
		text, _ := io.ReadAll(r)
		h := &zip.FileHeader{Name: f.Name, Method: zip.Store, CRC32: crc32.ChecksumIEEE(text),
			UncompressedSize64: uint64(len(text)), CompressedSize64: uint64(len(text))}
		if f.Name == "recipe.json" {
			h.UncompressedSize64 = says
		}
		w, _ := z.CreateRaw(h)
		w.Write(text)
	}
	z.Close()
	return b.Bytes()
}

// state is all of a piece that goes out and in.
type state struct {
	recipe   recipe.Recipe
	versions map[string]recipe.Recipe
	files    map[string]string // bytes by the name and the kind
}

func stateOf(t *testing.T, s *Studio, id string) state {
	t.Helper()
	plain := func(r recipe.Recipe) recipe.Recipe { // ids are other ones in another folder
		r = r.Clone()
		for i := range r.Sheets.List {
			r.Sheets.List[i].File = ""
		}
		r.Scene.Surroundings.File = ""
		return r
	}
	p := piece(t, s, id)
	out := state{recipe: plain(p.Recipe), versions: map[string]recipe.Recipe{}, files: map[string]string{}}
	list, err := s.Versions(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	for _, v := range list {
		then, err := s.VersionPiece(t.Context(), id, v.ID)
		if err != nil {
			t.Fatal(err)
		}
		out.versions[v.Name] = plain(then.Recipe)
	}
	files, err := s.store.Files(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range files {
		whole, err := s.store.File(t.Context(), id, f.ID)
		if err != nil {
			t.Fatal(err)
		}
		out.files[f.Kind+" "+f.Name] = string(whole.Data)
	}
	return out
}

// FuzzBundle holds that bytes are either refused, and nothing of them stays, or become a piece that
// goes out and comes in again as the same: decisions, versions, and artwork byte by byte.
func FuzzBundle(f *testing.F) {
	from, err := New(f.TempDir())
	if err != nil {
		f.Fatal(err)
	}
	id, err := from.Create(context.Background(), File{Name: "sign.svg", Data: []byte(plainSign)}, File{Name: "two.svg", Data: []byte(plainSign)})
	if err != nil {
		f.Fatal(err)
	}
	if _, err := from.KeepVersion(context.Background(), id, "first"); err != nil {
		f.Fatal(err)
	}
	mm := 33.0
	if _, err := from.Change(context.Background(), id, Latest, recipe.Change{Label: "Size", Edits: []recipe.Edit{&recipe.SetSize{MM: &mm}}}); err != nil {
		f.Fatal(err)
	}
	var b bytes.Buffer
	bundleInto(f, from, id, &b)
	from.Close()
	f.Add(b.Bytes())
	// Stored, so that single bytes of documents can be changed.
	loose := lying(b.Bytes(), 0)
	f.Add(loose)
	f.Add([]byte("PK\x03\x04"))
	f.Fuzz(func(t *testing.T, data []byte) {
		s, err := New(t.TempDir())
		if err != nil {
			t.Fatal(err)
		}
		defer s.Close()
		made, err := unbundle(s, data)
		if err != nil {
			var in *ErrInput
			if !errors.As(err, &in) {
				t.Errorf("no sentence: %v", err)
			}
			if list, _ := s.Pieces(t.Context()); len(list) > 0 {
				t.Error("something of it stays")
			}
			return
		}
		var out bytes.Buffer
		bundleInto(t, s, made, &out)
		again, err := unbundle(s, out.Bytes())
		if err != nil {
			t.Fatalf("what went out does not come in: %v", err)
		}
		if a, b := stateOf(t, s, made), stateOf(t, s, again); !reflect.DeepEqual(a, b) {
			t.Errorf("another piece:\n%+v\n%+v", a, b)
		}
	})
}
