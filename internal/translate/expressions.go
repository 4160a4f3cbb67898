package translate

import (
	"go/ast"
	"go/token"
	"go/types"
	"strings"
)

func (t *translator) exprs(list []ast.Expr) []string {
	out := make([]string, len(list))
	for i, e := range list {
		out[i] = t.expr(e)
	}
	return out
}

func (t *translator) expr(e ast.Expr) string {
	if _, named := e.(*ast.Ident); !named {
		if v, ok := t.constantOf(e); ok {
			return v
		}
	}
	switch e := e.(type) {
	case *ast.Ident:
		return t.ident(e)
	case *ast.ParenExpr:
		return "(" + t.expr(e.X) + ")"
	case *ast.UnaryExpr:
		if e.Op != token.SUB && e.Op != token.NOT {
			t.fail(e, "an operator")
		}
		return e.Op.String() + t.expr(e.X)
	case *ast.BinaryExpr:
		return t.binary(e)
	case *ast.CallExpr:
		return t.call(e)
	case *ast.IndexExpr:
		return t.expr(e.X) + "[" + t.expr(e.Index) + "]"
	case *ast.SelectorExpr:
		return t.expr(e.X) + "." + lower(e.Sel.Name)
	case *ast.CompositeLit:
		return t.literal(e)
	}
	t.fail(e, "an expression")
	return ""
}

// ident keeps names; functions of the package begin with a small letter here.
func (t *translator) ident(e *ast.Ident) string {
	if e.Name == "nil" {
		return "[]"
	}
	if _, ok := t.info.Uses[e].(*types.Func); ok {
		return lower(e.Name)
	}
	return e.Name
}

func (t *translator) binary(e *ast.BinaryExpr) string {
	op := e.Op.String()
	switch e.Op {
	case token.EQL:
		op = "==="
	case token.NEQ:
		op = "!=="
	case token.QUO:
		if whole(t.info.TypeOf(e)) {
			return "Math.trunc(" + t.expr(e.X) + " / " + t.expr(e.Y) + ")"
		}
	case token.ADD, token.SUB, token.MUL, token.REM, token.LSS, token.GTR, token.LEQ, token.GEQ, token.LAND, token.LOR:
	default: // bits bind otherwise in the two languages
		t.fail(e, "an operator")
	}
	return t.expr(e.X) + " " + op + " " + t.expr(e.Y)
}

func whole(typ types.Type) bool {
	b, ok := typ.Underlying().(*types.Basic)
	return ok && b.Info()&types.IsInteger != 0
}

// known are functions of Go that are one here.
var known = map[string]string{
	"math.Abs": "Math.abs", "math.Cos": "Math.cos", "math.Exp": "Math.exp", "math.Floor": "Math.floor", "math.Max": "Math.max",
	"math.Min": "Math.min", "math.Sin": "Math.sin", "math.Sqrt": "Math.sqrt", "min": "Math.min", "max": "Math.max",
}

func (t *translator) call(e *ast.CallExpr) string {
	args := t.exprs(e.Args)
	name := ""
	switch f := e.Fun.(type) {
	case *ast.Ident:
		name = f.Name
	case *ast.SelectorExpr:
		name = f.X.(*ast.Ident).Name + "." + f.Sel.Name
	default:
		t.fail(e, "a call")
	}
	switch name {
	case "len":
		return args[0] + ".length"
	case "float64":
		return "(" + args[0] + ")"
	case "int":
		return "Math.trunc(" + args[0] + ")"
	case "append":
		return "[..." + args[0] + ", " + strings.Join(args[1:], ", ") + "]"
	}
	if js, ok := known[name]; ok {
		return js + "(" + strings.Join(args, ", ") + ")"
	}
	if f, ok := e.Fun.(*ast.Ident); ok {
		return t.ident(f) + "(" + strings.Join(args, ", ") + ")"
	}
	t.fail(e, name)
	return ""
}

func (t *translator) literal(e *ast.CompositeLit) string {
	if _, ok := t.info.TypeOf(e).Underlying().(*types.Struct); !ok {
		return "[" + strings.Join(t.exprs(e.Elts), ", ") + "]"
	}
	var out []string
	for _, x := range e.Elts {
		pair, ok := x.(*ast.KeyValueExpr)
		if !ok {
			t.fail(x, "a struct without names")
		}
		out = append(out, lower(pair.Key.(*ast.Ident).Name)+": "+t.expr(pair.Value))
	}
	return "{ " + strings.Join(out, ", ") + " }"
}
