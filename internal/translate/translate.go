// Package translate turns a Go package of plain functions into a JavaScript module, so that what pages
// compute is written once. It knows functions of numbers, texts, truths, lists and structs without methods;
// all else is an error that names its place. Lists are not copied when they are passed on: functions must
// not write into their arguments.
package translate

import (
	"bytes"
	"fmt"
	"go/ast"
	"go/constant"
	"go/importer"
	"go/parser"
	"go/token"
	"go/types"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// Module translates all files of a folder but its tests.
func Module(dir string) ([]byte, error) {
	t := &translator{fset: token.NewFileSet()}
	files, err := t.parse(dir)
	if err != nil {
		return nil, err
	}
	t.info = &types.Info{
		Types: map[ast.Expr]types.TypeAndValue{}, Uses: map[*ast.Ident]types.Object{}, Defs: map[*ast.Ident]types.Object{},
	}
	conf := types.Config{Importer: importer.ForCompiler(t.fset, "source", nil)}
	if _, err := conf.Check(dir, t.fset, files, t.info); err != nil {
		return nil, err
	}
	return t.module(files)
}

type translator struct {
	fset   *token.FileSet
	info   *types.Info
	out    bytes.Buffer
	indent int
}

func (t *translator) parse(dir string) ([]*ast.File, error) {
	names, err := filepath.Glob(filepath.Join(dir, "*.go"))
	if err != nil {
		return nil, err
	}
	slices.Sort(names)
	var files []*ast.File
	for _, name := range names {
		if strings.HasSuffix(name, "_test.go") {
			continue
		}
		src, err := os.ReadFile(name)
		if err != nil {
			return nil, err
		}
		f, err := parser.ParseFile(t.fset, name, src, parser.ParseComments)
		if err != nil {
			return nil, err
		}
		files = append(files, f)
	}
	return files, nil
}

// unknown is what is outside of the part of Go that is known.
type unknown struct{ text string }

func (t *translator) fail(n ast.Node, what string) {
	panic(unknown{fmt.Sprintf("%s: %s (%T) has no translation", t.fset.Position(n.Pos()), what, n)})
}

func (t *translator) module(files []*ast.File) (out []byte, err error) {
	defer func() {
		if u, ok := recover().(unknown); ok {
			err = fmt.Errorf("%s", u.text)
		}
	}()
	for _, f := range files {
		for _, d := range f.Decls {
			switch d := d.(type) {
			case *ast.GenDecl:
				t.declaration(d)
			case *ast.FuncDecl:
				t.function(d)
			}
		}
	}
	return t.out.Bytes(), nil
}

func (t *translator) line(format string, args ...any) {
	fmt.Fprintf(&t.out, "%s%s\n", strings.Repeat("  ", t.indent), fmt.Sprintf(format, args...))
}

// declaration writes structs as types for checkers, and constants of the package.
func (t *translator) declaration(d *ast.GenDecl) {
	for _, spec := range d.Specs {
		switch spec := spec.(type) {
		case *ast.TypeSpec:
			t.typedef(spec)
		case *ast.ValueSpec:
			t.values(spec, "const")
		}
	}
}

func (t *translator) typedef(spec *ast.TypeSpec) {
	st, ok := spec.Type.(*ast.StructType)
	if !ok {
		t.line("/** @typedef {%s} %s */\n", typeWords(t.info.TypeOf(spec.Type)), spec.Name.Name)
		return
	}
	t.line("/**\n * @typedef {object} %s", spec.Name.Name)
	for _, f := range st.Fields.List {
		for _, name := range f.Names {
			t.line(" * @property {%s} %s", typeWords(t.info.TypeOf(f.Type)), lower(name.Name))
		}
	}
	t.line(" */\n")
}

func (t *translator) function(d *ast.FuncDecl) {
	if d.Recv != nil {
		t.fail(d, "a method")
	}
	t.line("/**")
	for _, text := range strings.Split(strings.TrimSpace(d.Doc.Text()), "\n") {
		if text != "" {
			t.line(" * %s", strings.Replace(text, d.Name.Name+" ", lower(d.Name.Name)+" ", 1))
		}
	}
	var params []string
	for _, f := range d.Type.Params.List {
		for _, name := range f.Names {
			params = append(params, name.Name)
			t.line(" * @param {%s} %s", typeWords(t.info.TypeOf(f.Type)), name.Name)
		}
	}
	t.line(" * @returns {%s}", t.results(d.Type))
	t.line(" */")
	export := ""
	if d.Name.IsExported() {
		export = "export "
	}
	t.line("%sfunction %s(%s) {", export, lower(d.Name.Name), strings.Join(params, ", "))
	t.block(d.Body.List)
	t.line("}\n")
}

func (t *translator) results(f *ast.FuncType) string {
	if f.Results == nil {
		return "void"
	}
	var list []string
	for _, r := range f.Results.List {
		list = append(list, typeWords(t.info.TypeOf(r.Type)))
	}
	if len(list) == 1 {
		return list[0]
	}
	return "[" + strings.Join(list, ", ") + "]"
}

// typeWords writes a type as JSDoc has it.
func typeWords(typ types.Type) string {
	switch typ := typ.(type) {
	case *types.Alias:
		return typeWords(typ.Rhs())
	case *types.Named:
		return typ.Obj().Name()
	case *types.Basic:
		switch {
		case typ.Info()&types.IsNumeric != 0:
			return "number"
		case typ.Info()&types.IsString != 0:
			return "string"
		case typ.Info()&types.IsBoolean != 0:
			return "boolean"
		}
	case *types.Slice:
		return typeWords(typ.Elem()) + "[]"
	case *types.Array:
		list := make([]string, typ.Len())
		for i := range list {
			list[i] = typeWords(typ.Elem())
		}
		return "[" + strings.Join(list, ", ") + "]"
	}
	panic(unknown{fmt.Sprintf("the type %v has no translation", typ)})
}

func lower(name string) string {
	if strings.ToUpper(name) == name && len(name) > 1 {
		return strings.ToLower(name)
	}
	return strings.ToLower(name[:1]) + name[1:]
}

// constantOf returns the value of an expression that is known beforehand.
func (t *translator) constantOf(e ast.Expr) (string, bool) {
	v := t.info.Types[e].Value
	if v == nil {
		return "", false
	}
	switch v.Kind() {
	case constant.Int, constant.Float:
		f, _ := constant.Float64Val(v)
		return fmt.Sprint(f), true
	case constant.String:
		return fmt.Sprintf("%q", constant.StringVal(v)), true
	case constant.Bool:
		return v.String(), true
	}
	return "", false
}
