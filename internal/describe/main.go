// Command describe writes what is made of the tables in core/terms and of the functions in core/curves:
// modules for the pages and tables for the docs. It is run by go generate ./core/terms.
package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"log"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"

	"bildhauer/core/print"
	"bildhauer/core/terms"
	"bildhauer/core/units"
	"bildhauer/internal/translate"
	"bildhauer/web/acts"
)

const made = "// Made by go generate ./core/terms. What is wrong here is mended there.\n\n"

// documents are the files that are written, by their path in the repository.
var documents = map[string]func(root string) ([]byte, error){
	"web/static/js/made/terms.js":  func(string) ([]byte, error) { return termsModule() },
	"web/static/js/made/curves.js": curvesModule,
	"web/static/js/made/acts.js":   func(string) ([]byte, error) { return actsModule() },
	"docs/keys.md":                 func(string) ([]byte, error) { return keys(), nil },
	"docs/limits.md":               func(string) ([]byte, error) { return limits(), nil },
	"docs/words.md":                func(string) ([]byte, error) { return ownWords(), nil },
}

func main() {
	root := "."
	if len(os.Args) > 1 {
		root = os.Args[1]
	}
	for path, write := range documents {
		data, err := write(root)
		if err == nil {
			err = os.WriteFile(filepath.Join(root, path), data, 0o644)
		}
		if err != nil {
			log.Fatalf("%s: %v", path, err)
		}
	}
}

func curvesModule(root string) ([]byte, error) {
	code, err := translate.Module(filepath.Join(root, "core/curves"))
	return append([]byte(made), code...), err
}

func termsModule() ([]byte, error) {
	var b bytes.Buffer
	b.WriteString(made)
	for _, t := range []reflect.Type{
		reflect.TypeFor[terms.Figure](), reflect.TypeFor[terms.Option](), reflect.TypeFor[terms.Choice](),
		reflect.TypeFor[terms.Piece](), reflect.TypeFor[terms.Profile](), reflect.TypeFor[terms.Track](),
		reflect.TypeFor[terms.Word](), reflect.TypeFor[terms.Amount](), reflect.TypeFor[terms.Addition](),
	} {
		typedef(&b, t)
	}
	figures, choices := map[string]terms.Figure{}, map[string]terms.Choice{}
	for _, f := range terms.Figures() {
		figures[f.Name] = f
	}
	for _, c := range terms.Choices() {
		choices[c.Name] = c
	}
	for _, c := range []struct {
		name, typ, what string
		value           any
	}{
		{"figures", "Record<string, Figure>", "All figures by their names.", figures},
		{"choices", "Record<string, Choice>", "All choices by their names.", choices},
		{"profiles", "Profile[]", "The forms of bevels.", terms.Profiles},
		{"tracks", "Track[]", "What can change over time.", terms.Tracks},
		{"additions", "Addition[]", "The shapes that Mend adds.", terms.Additions},
		{"words", "Word[]", "The words that are our own.", terms.Words},
		{"rates", "number[]", "Frames a second; the first is the usual one.", terms.Rates},
		{"finenesses", "{ name: string, mm: number }[]", "Tolerances by their names, mm.", terms.Finenesses},
		{"units", "Record<string, number>", "The units of lengths that people may write, in mm.", units.MMPerUnit},
		{"beds", "Record<string, number[]>", "The beds of printers, mm.", print.Beds},
		{"lineKinds", "string[]", "The kinds of lines of a print, by number.", print.KindNames},
	} {
		fmt.Fprintf(&b, "/**\n * %s\n * @type {%s}\n */\nexport const %s = ", c.what, c.typ, c.name)
		if err := entries(&b, reflect.ValueOf(c.value)); err != nil {
			return nil, err
		}
	}
	return b.Bytes(), nil
}

// entries writes a list or a map, an entry a line.
func entries(b *bytes.Buffer, v reflect.Value) error {
	put := func(before string, v reflect.Value) error {
		data, err := json.Marshal(v.Interface())
		fmt.Fprintf(b, "  %s%s,\n", before, data)
		return err
	}
	if v.Kind() == reflect.Slice || v.Kind() == reflect.Array {
		b.WriteString("[\n")
		for i := range v.Len() {
			if err := put("", v.Index(i)); err != nil {
				return err
			}
		}
		b.WriteString("];\n\n")
		return nil
	}
	b.WriteString("{\n")
	keys := v.MapKeys()
	slices.SortFunc(keys, func(x, y reflect.Value) int { return strings.Compare(x.String(), y.String()) })
	for _, k := range keys {
		if err := put(fmt.Sprintf("%q: ", k.String()), v.MapIndex(k)); err != nil {
			return err
		}
	}
	b.WriteString("};\n\n")
	return nil
}

// typedef tells a checker of a type by its fields in JSON.
func typedef(b *bytes.Buffer, t reflect.Type) {
	fmt.Fprintf(b, "/**\n * @typedef {object} %s\n", t.Name())
	properties(b, t)
	b.WriteString(" */\n\n")
}

func properties(b *bytes.Buffer, t reflect.Type) {
	for i := range t.NumField() {
		f := t.Field(i)
		if f.Anonymous {
			properties(b, f.Type)
			continue
		}
		name, more, _ := strings.Cut(f.Tag.Get("json"), ",")
		if strings.Contains(more, "omit") {
			name = "[" + name + "]"
		}
		fmt.Fprintf(b, " * @property {%s} %s\n", words(f.Type), name)
	}
}

func words(t reflect.Type) string {
	switch t.Kind() {
	case reflect.String:
		return "string"
	case reflect.Bool:
		return "boolean"
	case reflect.Slice:
		return words(t.Elem()) + "[]"
	case reflect.Struct:
		return t.Name()
	}
	return "number"
}

func actsModule() ([]byte, error) {
	var b bytes.Buffer
	b.WriteString(made)
	typedef(&b, reflect.TypeFor[acts.Act]())
	typedef(&b, reflect.TypeFor[acts.Scope]())
	b.WriteString("/**\n * What people do in the pages, by where they do it.\n * @type {Scope[]}\n */\nexport const scopes = ")
	err := entries(&b, reflect.ValueOf(acts.Scopes))
	return b.Bytes(), err
}

// keys is docs/keys.md.
func keys() []byte {
	var b bytes.Buffer
	b.WriteString("# Keys\n\nWritten from the program (`web/acts`); the page shows those of where one is on `?`.\n")
	for _, s := range acts.Scopes {
		fmt.Fprintf(&b, "\n## %s\n\n| keys | what they do |\n|---|---|\n", s.Title)
		for _, a := range s.Acts {
			fmt.Fprintf(&b, "| %s | %s |\n", "`"+strings.Join(a.Keys, "` `")+"`", a.Label)
		}
	}
	return b.Bytes()
}

// limits is docs/limits.md: what the program takes at the most.
func limits() []byte {
	var b bytes.Buffer
	b.WriteString("# Limits of all figures\n\nWritten from the program (`core/terms`).\n\n")
	b.WriteString("| figure | name | least | most | usual | flag |\n|---|---|---|---|---|---|\n")
	for _, f := range terms.Figures() {
		usual, flag := "", ""
		if f.Usual != 0 {
			usual = f.Write(f.Usual)
		}
		if f.Flag != "" {
			flag = "`--" + f.Flag + "`"
		}
		what := strings.TrimPrefix(f.What, "The ")
		fmt.Fprintf(&b, "| %s | `%s` | %s | %s | %s | %s |\n", what, f.Name, f.Write(f.Min), f.Write(f.Max), usual, flag)
	}
	return b.Bytes()
}

// ownWords is docs/words.md.
func ownWords() []byte {
	var b bytes.Buffer
	b.WriteString("# Words\n\nWritten from the program (`core/terms/words.go`). All others are those of the trade.\n\n")
	b.WriteString("| word | what it means here |\n|---|---|\n")
	for _, w := range terms.Words {
		fmt.Fprintf(&b, "| %s | %s |\n", w.Name, w.Means)
	}
	return b.Bytes()
}
