package translate

import (
	"go/ast"
	"go/token"
	"go/types"
	"strings"
)

func (t *translator) block(list []ast.Stmt) {
	t.indent++
	for _, s := range list {
		t.statement(s)
	}
	t.indent--
}

func (t *translator) statement(s ast.Stmt) {
	switch s := s.(type) {
	case *ast.ReturnStmt:
		t.returns(s)
	case *ast.AssignStmt:
		t.told(s)
		t.line("%s;", t.assignment(s))
	case *ast.DeclStmt:
		for _, spec := range s.Decl.(*ast.GenDecl).Specs {
			t.values(spec.(*ast.ValueSpec), "let")
		}
	case *ast.IncDecStmt:
		t.line("%s%s;", t.expr(s.X), s.Tok)
	case *ast.ExprStmt:
		t.line("%s;", t.expr(s.X))
	case *ast.BranchStmt:
		t.line("%s;", s.Tok)
	case *ast.IfStmt:
		t.branch(s, "")
	case *ast.ForStmt:
		t.loop(s)
	case *ast.RangeStmt:
		t.ranges(s)
	case *ast.SwitchStmt:
		t.switches(s)
	default:
		t.fail(s, "a statement")
	}
}

// told tells checkers of the type of a new list, whose length they would not know.
func (t *translator) told(s *ast.AssignStmt) {
	if s.Tok != token.DEFINE || len(s.Lhs) != 1 {
		return
	}
	typ := t.info.TypeOf(s.Lhs[0])
	if _, list := typ.Underlying().(*types.Array); list {
		t.line("/** @type {%s} */", typeWords(typ))
	}
}

func (t *translator) values(spec *ast.ValueSpec, word string) {
	for i, name := range spec.Names {
		if i < len(spec.Values) {
			t.line("%s %s = %s;", word, name.Name, t.expr(spec.Values[i]))
			continue
		}
		typ := t.info.TypeOf(name)
		t.line("/** @type {%s} */", typeWords(typ))
		t.line("%s %s = %s;", word, name.Name, zero(typ))
	}
}

// zero is what Go gives a variable without a value.
func zero(typ types.Type) string {
	switch typ := typ.Underlying().(type) {
	case *types.Slice:
		return "[]"
	case *types.Basic:
		switch {
		case typ.Info()&types.IsNumeric != 0:
			return "0"
		case typ.Info()&types.IsString != 0:
			return `""`
		}
		return "false"
	}
	panic(unknown{"the zero value of " + typ.String() + " has no translation"})
}

func (t *translator) returns(s *ast.ReturnStmt) {
	list := t.exprs(s.Results)
	if len(list) > 1 {
		t.line("return [%s];", strings.Join(list, ", "))
		return
	}
	t.line("return %s;", strings.Join(list, ""))
}

func (t *translator) assignment(s *ast.AssignStmt) string {
	left := make([]string, len(s.Lhs))
	for i, e := range s.Lhs {
		if left[i] = t.expr(e); left[i] == "_" {
			left[i] = ""
		}
	}
	word := ""
	if s.Tok == token.DEFINE {
		word = "let "
	}
	if len(left) == 1 {
		if grown, ok := t.appending(left[0], s.Rhs[0]); ok && word == "" {
			return grown
		}
		op := "="
		if s.Tok != token.DEFINE {
			op = s.Tok.String()
		}
		return word + left[0] + " " + op + " " + t.expr(s.Rhs[0])
	}
	right := strings.Join(t.exprs(s.Rhs), ", ")
	if len(s.Rhs) > 1 {
		right = "[" + right + "]"
	}
	return word + "[" + strings.Join(left, ", ") + "] = " + right
}

// appending is x = append(x, …), which does not make a new list here.
func (t *translator) appending(left string, right ast.Expr) (string, bool) {
	call, ok := right.(*ast.CallExpr)
	if !ok {
		return "", false
	}
	name, ok := call.Fun.(*ast.Ident)
	if !ok || name.Name != "append" || t.expr(call.Args[0]) != left {
		return "", false
	}
	spread := ""
	if call.Ellipsis.IsValid() {
		spread = "..."
	}
	return left + ".push(" + spread + strings.Join(t.exprs(call.Args[1:]), ", ") + ")", true
}

func (t *translator) branch(s *ast.IfStmt, before string) {
	if s.Init != nil {
		t.fail(s, "a statement before a condition")
	}
	t.line("%sif (%s) {", before, t.expr(s.Cond))
	t.block(s.Body.List)
	switch e := s.Else.(type) {
	case nil:
		t.line("}")
	case *ast.IfStmt:
		t.branch(e, "} else ")
	case *ast.BlockStmt:
		t.line("} else {")
		t.block(e.List)
		t.line("}")
	}
}

func (t *translator) loop(s *ast.ForStmt) {
	init, cond, post := "", "", ""
	if s.Init != nil {
		init = t.assignment(s.Init.(*ast.AssignStmt))
	}
	if s.Cond != nil {
		cond = t.expr(s.Cond)
	}
	switch p := s.Post.(type) {
	case nil:
	case *ast.IncDecStmt:
		post = t.expr(p.X) + p.Tok.String()
	case *ast.AssignStmt:
		post = t.assignment(p)
	}
	t.line("for (%s; %s; %s) {", init, cond, post)
	t.block(s.Body.List)
	t.line("}")
}

func (t *translator) ranges(s *ast.RangeStmt) {
	name := func(e ast.Expr, other string) string {
		if e == nil {
			return other
		}
		return t.expr(e)
	}
	of := t.expr(s.X)
	if _, number := t.info.TypeOf(s.X).Underlying().(*types.Basic); number {
		i := name(s.Key, "round")
		t.line("for (let %s = 0; %s < %s; %s++) {", i, i, of, i)
	} else if key := name(s.Key, "_"); key == "_" {
		t.line("for (const %s of %s) {", name(s.Value, "_"), of)
	} else if s.Value == nil {
		t.line("for (let %s = 0; %s < %s.length; %s++) {", key, key, of, key)
	} else {
		t.line("for (const [%s, %s] of %s.entries()) {", key, t.expr(s.Value), of)
	}
	t.block(s.Body.List)
	t.line("}")
}

func (t *translator) switches(s *ast.SwitchStmt) {
	if s.Init != nil || s.Tag == nil {
		t.fail(s, "a switch without a value")
	}
	t.line("switch (%s) {", t.expr(s.Tag))
	t.indent++
	for _, c := range s.Body.List {
		c := c.(*ast.CaseClause)
		for _, e := range c.List {
			t.line("case %s:", t.expr(e))
		}
		if c.List == nil {
			t.line("default:")
		}
		t.indent++
		t.line("{")
		t.block(c.Body)
		t.indent++
		if !ends(c.Body) {
			t.line("break;")
		}
		t.indent--
		t.line("}")
		t.indent--
	}
	t.indent--
	t.line("}")
}

// ends reports whether a list of statements returns in any case.
func ends(list []ast.Stmt) bool {
	if len(list) == 0 {
		return false
	}
	_, ok := list[len(list)-1].(*ast.ReturnStmt)
	return ok
}
