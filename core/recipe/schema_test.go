package recipe

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/terms"
)

const schemaHead = `# The recipe

A recipe is a JSON document of all decisions about a piece. This page is written from the
program itself (its types, their comments and limits); the present version is %d. A field
that is missing keeps its usual value. Documents of older versions are brought up; newer
ones are refused. On the command line ` + "`make --recipe FILE`" + ` takes one, and a field that
is not known is an error there, for it may be a slip of the pen.

A recipe for any piece has a version, a name and the section ` + "`parts`" + ` without its list; the
program keeps, sends and takes such files in Raise. For example:

` + "```json\n%s\n```" + `

Limits of all figures are in [limits.md](limits.md).
`

// TestTheRecipeIsWritten compares docs/recipe.md with the types and their comments;
// BILDHAUER_WRITE=1 writes it anew.
func TestTheRecipeIsWritten(t *testing.T) {
	comments := fieldComments(t)
	example, err := Ready()[1].Document()
	if err != nil {
		t.Fatal(err)
	}
	var b strings.Builder
	fmt.Fprintf(&b, schemaHead, Version, example)
	section(t, &b, comments, reflect.TypeFor[fields](), "Recipe", map[reflect.Type]bool{})
	b.WriteString("\n## Choices\n\n| choice | options | what |\n|---|---|---|\n")
	for _, c := range terms.Choices() {
		var words []string
		for _, o := range c.Options {
			word := "`" + o.Name + "`"
			if o.Name == "" {
				word = "`\"\"` (" + o.Label + ")"
			}
			words = append(words, word)
		}
		fmt.Fprintf(&b, "| %s | %s | %s |\n", c.Name, strings.Join(words, ", "), c.Help)
	}
	b.WriteString("\n## What can move\n\n| track | label | unit | of |\n|---|---|---|---|\n")
	for _, t := range terms.Tracks {
		fmt.Fprintf(&b, "| `%s` | %s | %s | %s |\n", t.Name, t.Label, t.Unit, strings.Join(t.Of, ", "))
	}
	const path = "../../docs/recipe.md"
	if os.Getenv("BILDHAUER_WRITE") != "" {
		if err := os.WriteFile(path, []byte(b.String()), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	if have, err := os.ReadFile(path); err != nil || string(have) != b.String() {
		t.Errorf("docs/recipe.md is not what the program says (%v)", err)
	}
}

// section writes the table of a type and then those of the types in it.
func section(t *testing.T, b *strings.Builder, comments map[string]string, typ reflect.Type, name string, done map[reflect.Type]bool) {
	t.Helper()
	if done[typ] {
		return
	}
	done[typ] = true
	fmt.Fprintf(b, "\n## %s\n\n| field | type | what |\n|---|---|---|\n", name)
	var inner []reflect.Type
	for i := range typ.NumField() {
		f := typ.Field(i)
		tag, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		if tag == "" {
			continue
		}
		what := comments[name+"."+f.Name]
		if what == "" {
			t.Errorf("%s.%s has no comment", name, f.Name)
		}
		fmt.Fprintf(b, "| `%s` | %s | %s |\n", tag, typeWords(f.Type)+tagWords(f.Tag), strings.ReplaceAll(what, "|", "\\|"))
		if in := innermost(f.Type); in.Kind() == reflect.Struct {
			inner = append(inner, in)
		}
	}
	for _, in := range inner {
		section(t, b, comments, in, in.Name(), done)
	}
}

// tagWords tells what bounds a field: a figure of limits.md, or a choice of this page.
func tagWords(tag reflect.StructTag) string {
	for _, kind := range []string{"figure", "count", "choice"} {
		if name, ok := tag.Lookup(kind); ok {
			name = strings.TrimSuffix(name, ",zero")
			if kind == "choice" {
				return ", one of [" + name + "](#choices)"
			}
			return ", [" + name + "](limits.md)"
		}
	}
	return ""
}

func innermost(t reflect.Type) reflect.Type {
	for slices.Contains([]reflect.Kind{reflect.Pointer, reflect.Slice, reflect.Map, reflect.Array}, t.Kind()) {
		t = t.Elem()
	}
	return t
}

func typeWords(t reflect.Type) string {
	switch t.Kind() {
	case reflect.Pointer:
		return typeWords(t.Elem())
	case reflect.Slice:
		return "list of " + typeWords(t.Elem())
	case reflect.Array:
		return fmt.Sprintf("%d of %s", t.Len(), typeWords(t.Elem()))
	case reflect.Map:
		return "object of " + typeWords(t.Elem())
	case reflect.Struct:
		return "[" + t.Name() + "](#" + strings.ToLower(t.Name()) + ")"
	case reflect.String:
		return "text"
	case reflect.Bool:
		return "true or false"
	}
	return "number"
}

// fieldComments returns what stands beside the fields of all types, by "Type.Field".
func fieldComments(t *testing.T) map[string]string {
	t.Helper()
	files, err := filepath.Glob("*.go")
	if err != nil {
		t.Fatal(err)
	}
	out := map[string]string{}
	for _, file := range files {
		tree, err := parser.ParseFile(token.NewFileSet(), file, nil, parser.ParseComments)
		if err != nil {
			t.Fatal(err)
		}
		ast.Inspect(tree, func(n ast.Node) bool {
			spec, ok := n.(*ast.TypeSpec)
			if !ok {
				return true
			}
			st, ok := spec.Type.(*ast.StructType)
			if !ok {
				return true
			}
			for _, f := range st.Fields.List {
				text := strings.TrimSpace(f.Doc.Text() + " " + f.Comment.Text())
				for _, name := range f.Names {
					out[spec.Name.Name+"."+name.Name] = strings.Join(strings.Fields(text), " ")
				}
			}
			return true
		})
	}
	return out
}
