package ps

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

// show writes an object as programs do.
func (o object) show() string {
	switch o.kind {
	case kInt:
		return fmt.Sprint(o.n)
	case kReal:
		s := fmt.Sprintf("%.4g", o.f)
		if !strings.ContainsAny(s, ".e") {
			s += ".0"
		}
		return s
	case kBool:
		return fmt.Sprint(o.n != 0)
	case kString:
		return fmt.Sprintf("(%s)", o.ref.(*str).b)
	case kName:
		if o.exec {
			return o.s
		}
		return "/" + o.s
	case kArray:
		var parts []string
		for _, e := range o.ref.(*array).v {
			parts = append(parts, e.show())
		}
		if o.exec {
			return "{" + strings.Join(parts, " ") + "}"
		}
		return "[" + strings.Join(parts, " ") + "]"
	case kDict:
		return fmt.Sprintf("-dict %d-", len(o.ref.(*dict).keys))
	case kMark:
		return "-mark-"
	case kNull:
		return "null"
	case kOp:
		return "--" + o.s + "--"
	}
	return fmt.Sprintf("-kind %d-", o.kind)
}

// evaluate runs a program and returns what it leaves on the stack, or the name
// of its error and the operator that raised it.
func evaluate(t *testing.T, program string) string {
	t.Helper()
	box := geom.Box{Max: geom.Vec{X: 100, Y: 100}}
	out, err := budget.Within(context.Background(), func(b *budget.Budget) (string, error) {
		m := newMachine(emptySheet("a.eps", box), box, nil, b)
		err := m.run(&scanner{b: []byte(program)})
		var f *fail
		if errors.As(err, &f) {
			return "error " + f.name + " in " + f.at, nil
		}
		var parts []string
		for _, o := range m.stack {
			parts = append(parts, o.show())
		}
		if err != nil {
			parts = append(parts, "then "+err.Error())
		}
		return strings.Join(parts, " "), nil
	})
	if err != nil {
		return err.Error()
	}
	return out
}

// TestOperators runs each operator on operands and compares what it leaves with
// the language reference (PLRM, chapter 8).
func TestOperators(t *testing.T) {
	for _, table := range [][][2]string{
		{ // the operand stack
			{"1 2 pop", "1"},
			{"1 2 exch", "2 1"},
			{"1 dup", "1 1"},
			{"1 2 3 2 copy", "1 2 3 2 3"},
			{"[1 2] [7 8 9] copy", "[1 2]"},
			{"(ab) (wxyz) copy", "(ab)"},
			{"(ab) (wxyz) dup 3 1 roll copy pop", "(abyz)"},
			{"1 dict dup /a 5 put 3 dict copy /a get", "5"},
			{"(a) (b) (c) 0 index", "(a) (b) (c) (c)"},
			{"(a) (b) (c) 2 index", "(a) (b) (c) (a)"},
			{"1 2 3 3 -1 roll", "2 3 1"},
			{"1 2 3 3 1 roll", "3 1 2"},
			{"1 2 3 3 0 roll", "1 2 3"},
			{"1 2 3 3 7 roll", "3 1 2"},
			{"1 2 3 0 5 roll", "1 2 3"},
			{"1 2 clear", ""},
			{"1 2 count", "1 2 2"},
			{"mark 1 2 counttomark", "-mark- 1 2 2"},
			{"1 mark 2 3 cleartomark", "1"},
			{"pop", "error stackunderflow in pop"},
			{"1 5 index", "error stackunderflow in index"},
			{"1 2 9 1 roll", "error rangecheck in roll"},
			{"counttomark", "error unmatchedmark in counttomark"},
			{"1 2 -1 copy", "error rangecheck in copy"},
		},
		{ // numbers
			{"3 4 add", "7"},
			{"3 4.0 add", "7.0"},
			{"3 4 sub", "-1"},
			{"3 4 mul", "12"},
			{"3 4 div", "0.75"},
			{"4 2 div", "2.0"},
			{"7 2 idiv", "3"},
			{"-7 2 idiv", "-3"},
			{"5 3 mod", "2"},
			{"-5 3 mod", "-2"},
			{"4.5 neg", "-4.5"},
			{"-3 abs", "3"},
			{"3.2 ceiling", "4.0"},
			{"-4.8 ceiling", "-4.0"},
			{"99 ceiling", "99"},
			{"-4.8 floor", "-5.0"},
			{"6.5 round", "7.0"},
			{"-6.5 round", "-6.0"},
			{"-4.8 truncate", "-4.0"},
			{"9 sqrt", "3.0"},
			{"30 sin", "0.5"},
			{"60 cos", "0.5"},
			{"0 1 atan", "0.0"},
			{"1 0 atan", "90.0"},
			{"-100 0 atan", "270.0"},
			{"9 0.5 exp", "3.0"},
			{"-9 -1 exp", "-0.1111"},
			{"10 ln", "2.303"},
			{"100 log", "2.0"},
			{"7 3 bitshift", "56"},
			{"142 -3 bitshift", "17"},
			{"7 srand rand rand eq", "false"},
			{"7 srand rand 7 srand rand eq", "true"},
			{"1 0 div", "error undefinedresult in div"},
			{"1 0 idiv", "error undefinedresult in idiv"},
			{"1 0 mod", "error undefinedresult in mod"},
			{"(a) 1 add", "error typecheck in add"},
			{"-1 sqrt", "error undefinedresult in sqrt"},
			{"2147483647 1 add", "2.147e+09"},
		},
		{ // types
			{"(3.5) cvr", "3.5"},
			{"(16#FF) cvi", "255"},
			{"-47.8 cvi", "-47"},
			{"(520) cvi", "520"},
			{"(abc) cvn", "/abc"},
			{"456 10 string cvs", "(456)"},
			{"/mo 10 string cvs", "(mo)"},
			{"true 10 string cvs", "(true)"},
			{"[1] 20 string cvs", "(--nostringval--)"},
			{"123 10 20 string cvrs", "(123)"},
			{"-123 16 20 string cvrs", "(-7B)"},
			{"255 16 20 string cvrs", "(FF)"},
			{"/a cvx xcheck", "true"},
			{"{} cvlit xcheck", "false"},
			{"1 type", "integertype"},
			{"1.0 type", "realtype"},
			{"(a) type", "stringtype"},
			{"/a type", "nametype"},
			{"true type", "booleantype"},
			{"null type", "nulltype"},
			{"[] type", "arraytype"},
			{"1 dict type", "dicttype"},
			{"mark type", "marktype"},
			{"/add load type", "operatortype"},
			{"save type", "savetype"},
			{"currentfile type", "filetype"},
			{"(x) cvi", "error typecheck in cvi"},
			{"123456 3 string cvs", "error rangecheck in cvs"},
		},
		{ // comparing, bits
			{"4.0 4 eq", "true"},
			{"(abc) (abc) eq", "true"},
			{"(abc) /abc eq", "true"},
			{"[1] [1] eq", "false"},
			{"[1] dup eq", "true"},
			{"1 2 ne", "true"},
			{"null null eq", "true"},
			{"4.2 4 ge", "true"},
			{"(abc) (d) ge", "false"},
			{"(aba) (ab) gt", "true"},
			{"5 4 le", "false"},
			{"3 4 lt", "true"},
			{"99 1 and", "1"},
			{"true false and", "false"},
			{"17 5 or", "21"},
			{"true false or", "true"},
			{"7 3 xor", "4"},
			{"true true xor", "false"},
			{"52 not", "-53"},
			{"true not", "false"},
			{"1 (a) lt", "error typecheck in lt"},
			{"1 true and", "error typecheck in and"},
		},
		{ // control
			{"{1 2 add} exec", "3"},
			{"(3 4 add) cvx exec", "7"},
			{"3 4 lt {(yes)} if", "(yes)"},
			{"4 3 lt {(yes)} if", ""},
			{"4 3 lt {(yes)} {(no)} ifelse", "(no)"},
			{"0 1 1 4 {add} for", "10"},
			{"1 2 6 {} for", "1 3 5"},
			{"3 -0.5 1 {} for", "3.0 2.5 2.0 1.5 1.0"},
			{"4 {(a)} repeat", "(a) (a) (a) (a)"},
			{"0 {(a)} repeat", ""},
			{"0 {1 add dup 3 eq {exit} if} loop", "3"},
			{"0 [13 29 3] {add} forall", "45"},
			{"(abc) {} forall", "97 98 99"},
			{"1 dict dup /k 9 put {} forall", "/k 9"},
			{"[1 2 3 4] {dup 3 eq {exit} if} forall", "1 2 3"},
			{"{stop (never)} stopped", "true"},
			{"{1} stopped", "1 false"},
			{"{1 0 div} stopped", "true"},
			{"{(a) 1 add} stopped {(caught)} if", "(a) 1 (caught)"},
			{"{undefinedname} stopped", "true"},
			{"exit", "then exit"},
			{"quit 5", "then quit"},
			{"stop 5", "then stop"},
			{"1 {2} if", "error typecheck in if"},
			{"true 5 if", "5"},
			{"/f {1 dict begin /n exch def n 2 lt {1} {n n 1 sub f mul} ifelse end} def 6 f", "720"},
			{"/p {p} def p", "error execstackoverflow"},
			{"/a /a cvx def a", "error execstackoverflow"},
			{"/s (s) cvx def s", "error execstackoverflow"},
			{"/a /b cvx def /b /a cvx def {a} stopped", "true"},
		},
		{ // arrays and strings
			{"[1 2 add (x)]", "[3 (x)]"},
			{"3 array", "[null null null]"},
			{"2 string length", "2"},
			{"[5 4 3] length", "3"},
			{"/name length", "4"},
			{"<</a 1 /b 2>> length", "2"},
			{"[31 41 59] 0 get", "31"},
			{"(abc) 1 get", "98"},
			{"/ar [5 17 3] def ar 2 (x) put ar", "[5 17 (x)]"},
			{"/st (abc) def st 0 65 put st", "(Abc)"},
			{"[9 8 7 6 5] 1 3 getinterval", "[8 7 6]"},
			{"(abcde) 1 3 getinterval", "(bcd)"},
			{"(abcde) 0 0 getinterval", "()"},
			{"/ar [5 8 2 7 3] def ar 1 [(a) (b)] putinterval ar", "[5 (a) (b) 7 3]"},
			{"/st (abc) def st 1 (de) putinterval st", "(ade)"},
			{"[23 (ab) -6] aload", "23 (ab) -6 [23 (ab) -6]"},
			{"(a) (bcd) 2 array astore", "[(a) (bcd)]"},
			{"(abbc) (ab) anchorsearch", "(bc) (ab) true"},
			{"(abbc) (bb) anchorsearch", "(abbc) false"},
			{"(abbc) (bb) search", "(c) (bb) (a) true"},
			{"(abbc) (B) search", "(abbc) false"},
			{"(15 (St1) {1 2 add}) token", "((St1) {1 2 add}) 15 true"},
			{"( ) token", "false"},
			{"1 2 3 3 packedarray", "[1 2 3]"},
			{"[1 2] 2 get", "error rangecheck in get"},
			{"(abc) -1 get", "error rangecheck in get"},
			{"[1 2 3] 2 4 getinterval", "error rangecheck in getinterval"},
			{"[1] 0 [1 2] putinterval", "error rangecheck in putinterval"},
			{"]", "error unmatchedmark in ]"},
			{"-1 array", "error limitcheck in array"},
			{"1 2 5 array astore", "error stackunderflow in astore"},
		},
		{ // dictionaries
			{"/x 7 def x", "7"},
			{"/x 1 def 1 dict begin /x 2 def x end x", "2 1"},
			{"/x 1 def 1 dict begin /x 5 store end x", "5"},
			{"/x 1 def 2 dict begin /y 5 store currentdict /y known end", "true"},
			{"/add load 3 4 3 -1 roll exec", "7"},
			{"<</a 1>> /a known", "true"},
			{"<</a 1>> /b known", "false"},
			{"/add where {pop (there)} if", "(there)"},
			{"/nothere where", "false"},
			{"<</a 1 /b 2>> dup /a undef length", "1"},
			{"<</a 1>> /a get", "1"},
			{"5 dict maxlength 5 ge", "true"},
			{"countdictstack 1 dict begin countdictstack end exch sub", "1"},
			{"1 dict begin 1 dict begin cleardictstack countdictstack 2 eq", "true"},
			{"1 dict begin 5 array dictstack length end", "3"},
			{"/f {1 add} bind def /add {pop} def 5 f", "6"},
			{"<</a 1 /b>>", "-dict 1-"},
			{"nosuchname", "error undefined in nosuchname"},
			{"<<>> /x get", "error undefined in get"},
			{"/x load", "error undefined in x load"},
			{"end", "error dictstackunderflow in end"},
			{"5 begin", "error typecheck in begin"},
		},
		{ // files
			{"currentfile 5 string readstring\nabcdefg pop", "error undefined in fg"},
			{"currentfile 4 string readhexstring\n61 62 63 64 pop", "(abcd)"},
			{"currentfile 20 string readline\nhello\n", "(hello) true"},
			{"currentfile read\nA", "65 true"},
			{"(616263>) /ASCIIHexDecode filter 10 string readstring", "(abc) false"},
			{"currentfile /ASCIIHexDecode filter 3 string readstring\n616263>", "(abc) true"},
			{"(87cURD]j7BEbo80~>) /ASCII85Decode filter 12 string readstring", "(Hello world!) true"},
			{"<0461626364 fe 7a 80> /RunLengthDecode filter 10 string readstring", "(abcd"},
			{"currentfile status", "true"},
			{"(3 4) /SubFileDecode filter", "error"},
			{"(x) (r) file", "error undefinedfilename in file"},
		},
		{ // the system
			{"save restore", ""},
			{"/x 1 def save /x 2 def restore x", "2"},
			{"languagelevel", "3"},
			{"vmstatus", "0 0 1073741824"},
			{"usertime realtime", "0 0"},
			{"[1] readonly rcheck", "true"},
			{"[1] wcheck", "true"},
			{"(text) print (x) = 5 == flush", ""},
			{"true setpacking currentpacking", "false"},
			{"true setglobal currentglobal 1 gcheck", "false false"},
			{"/Mine /Thing <</a 5>> exch pop /Category defineresource /a get", "5"},
			{"/Thing <</a 5>> /ProcSet defineresource pop /Thing /ProcSet findresource /a get", "5"},
			{"/Thing /ProcSet resourcestatus", "false"},
			{"/Thing /ProcSet findresource", "error undefinedresource in Thing ProcSet findresource"},
			{"/StandardEncoding findencoding 65 get", "/A"},
			{"errordict /undefined get exec", "then stop"},
			{"true false startjob", "true"},
			{"1 2 writestring 5 exitserver", ""},
			{"countexecstack cachestatus", "0 0 0 0 0 0 0 0"},
			{"currentdevparams", "error stackunderflow"},
		},
		{ // the graphics state
			{"3 setlinewidth currentlinewidth", "3.0"},
			{"-3 setlinewidth currentlinewidth", "3.0"},
			{"1 setlinecap 2 setlinejoin currentlinecap currentlinejoin", "1 2"},
			{"7 setmiterlimit currentmiterlimit", "7.0"},
			{"0.4 setflat currentflat", "0.4"},
			{"[3 1] 2 setdash currentdash", "[3.0 1.0] 2.0"},
			{"2 setlinewidth gsave 9 setlinewidth grestore currentlinewidth", "2.0"},
			{"gsave gsave 4 setlinewidth grestoreall currentlinewidth", "1.0"},
			{"5 setlinewidth initgraphics currentlinewidth", "1.0"},
			{"5 setlinewidth gstate 1 setlinewidth setgstate currentlinewidth", "5.0"},
			{"0.25 setgray currentgray", "0.251"},
			{"1 0 0 setrgbcolor currentrgbcolor", "1.0 0.0 0.0"},
			{"0 1 1 sethsbcolor currentrgbcolor", "1.0 0.0 0.0"},
			{"1 0 0 setrgbcolor currentgray", "0.3"},
			{"(a) setlinewidth", "error typecheck in setlinewidth"},
			{"grestore currentlinewidth", "1.0"},
		},
		{ // matrices
			{"matrix", "[1.0 0.0 0.0 1.0 0.0 0.0]"},
			{"10 20 translate matrix currentmatrix", "[1.0 0.0 0.0 1.0 10.0 20.0]"},
			{"2 3 scale matrix currentmatrix", "[2.0 0.0 0.0 3.0 0.0 0.0]"},
			{"90 rotate 1 0 transform", "6.123e-17 1.0"},
			{"10 20 matrix translate", "[1.0 0.0 0.0 1.0 10.0 20.0]"},
			{"2 3 matrix scale", "[2.0 0.0 0.0 3.0 0.0 0.0]"},
			{"[2 0 0 2 5 5] concat 1 1 transform", "7.0 7.0"},
			{"[2 0 0 2 5 5] concat 7 7 itransform", "1.0 1.0"},
			{"[2 0 0 2 5 5] concat 1 1 dtransform", "2.0 2.0"},
			{"[2 0 0 2 5 5] concat 4 4 idtransform", "2.0 2.0"},
			{"1 2 [3 0 0 3 1 1] transform", "4.0 7.0"},
			{"[2 0 0 4 6 8] matrix invertmatrix", "[0.5 -0.0 -0.0 0.25 -3.0 -2.0]"},
			{"[2 0 0 2 0 0] [1 0 0 1 5 7] matrix concatmatrix", "[2.0 0.0 0.0 2.0 5.0 7.0]"},
			{"5 5 translate [1 0 0 1 0 0] setmatrix matrix currentmatrix", "[1.0 0.0 0.0 1.0 0.0 0.0]"},
			{"5 5 translate initmatrix matrix currentmatrix", "[1.0 0.0 0.0 1.0 0.0 0.0]"},
			{"[0 0 0 0 0 0] matrix invertmatrix", "error undefinedresult in invertmatrix"},
			{"[1 2 3] concat", "error typecheck in concat"},
		},
		{ // paths
			{"1 2 moveto currentpoint", "1.0 2.0"},
			{"1 2 moveto 3 4 lineto currentpoint", "3.0 4.0"},
			{"1 2 moveto 3 4 rmoveto currentpoint", "4.0 6.0"},
			{"1 2 moveto 3 4 rlineto currentpoint", "4.0 6.0"},
			{"0 0 moveto 1 1 2 2 3 3 curveto currentpoint", "3.0 3.0"},
			{"1 1 moveto 1 1 2 2 3 3 rcurveto currentpoint", "4.0 4.0"},
			{"0 0 moveto 5 0 lineto 5 5 lineto closepath currentpoint", "0.0 0.0"},
			{"50 50 10 0 90 arc currentpoint", "50.0 60.0"},
			{"50 50 10 90 0 arcn currentpoint", "60.0 50.0"},
			{"0 0 moveto 10 0 10 10 5 arct currentpoint", "10.0 5.0"},
			{"0 0 moveto 10 0 10 10 5 arcto", "5.0 0.0 10.0 5.0"},
			{"1 2 moveto 8 4 lineto pathbbox", "1.0 2.0 8.0 4.0"},
			{"0 0 moveto 9 0 lineto closepath {(m)} {(l)} {(c)} {(z)} pathforall", "0.0 0.0 (m) 9.0 0.0 (l) (z)"},
			{"0 0 moveto 1 1 2 2 3 3 curveto {pop pop} {} {} {} pathforall", "1.0 1.0 2.0 2.0 3.0 3.0"},
			{"1 1 moveto newpath {currentpoint} stopped", "true"},
			{"5 5 lineto", "error nocurrentpoint in lineto"},
			{"currentpoint", "error nocurrentpoint in currentpoint"},
			{"pathbbox", "error nocurrentpoint in pathbbox"},
			{"closepath", ""},
			{"1e30 1e30 moveto", "error limitcheck in moveto"},
		},
		{ // devices and screens answer as an ordinary printer would
			{"60 45 {pop} setscreen {} settransfer 1 setoverprint true setstrokeadjust", ""},
			{"currentscreen count", "60 45 {} 3"},
			{"currentstrokeadjust currentoverprint", "false false"},
			{"<</PageSize [1 2]>> setpagedevice currentpagedevice type", "dicttype"},
			{"currenttransfer currentblackgeneration currentundercolorremoval", "{} {} {}"},
			{"currentsystemparams type currentuserparams type", "dicttype dicttype"},
			{"mark 1 2 setcacheparams 5 setcachelimit", ""},
			{"[/Title (x) pdfmark", ""},
			{"0 setsmoothness currentsmoothness", "0.0"},
		},
	} {
		for _, c := range table {
			got := evaluate(t, c[0])
			begins := strings.HasPrefix(c[1], "error") || strings.HasPrefix(c[1], "(abcd")
			if got != c[1] && !(begins && strings.HasPrefix(got, c[1])) {
				t.Errorf("%-60s leaves %s\n%60s want %s", c[0], got, "", c[1])
			}
		}
	}
}

// TestEveryOperatorIsCareful calls every operator without operands and with
// operands of every wrong kind: each answers with an error of its own or does
// something, and none breaks off.
func TestEveryOperatorIsCareful(t *testing.T) {
	operands := []string{
		"", "1", "-1", "(a)", "/n", "[]", "{}", "null", "true", "mark", "1 dict", "1 2", "(a) (b)", "[1 2] {pop}",
		"1 dict 2", "[] [] []", "{} {} {} {}", "1 2 3 4 5 6", "(a) 0 9", "[1 0 0 1 0 0] 0", "9999999 9999999", "-5 -5 -5",
		"0 0 moveto [1 0 0 1 0 0]", "currentfile (abc)", "save", "1e300 1e300 1e300",
	}
	calls := 0
	for _, table := range tables {
		for name := range table {
			for _, args := range operands {
				calls++
				func() {
					defer func() {
						if p := recover(); p != nil {
							t.Errorf("%s %s: %v", args, name, p)
						}
					}()
					evaluate(t, args+" "+name+" 5")
				}()
			}
		}
	}
	if calls < 5000 {
		t.Errorf("only %d calls", calls)
	}
}

// TestFilesThatEndEarly say so; those that are whole don't.
func TestFilesThatEndEarly(t *testing.T) {
	const paint = "0 0 5 5 rectfill\n"
	for text, early := range map[string]bool{
		"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n" + paint:                                      true,
		"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n" + paint + "showpage\n":                       false,
		"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n" + paint + "%%EOF\n":                          false,
		"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n" + paint + "%%Trailer\n":                      false,
		"%!PS\n%%BoundingBox: 0 0 9 9\n" + paint:                                                         false,
		"%!PS-Adobe-2.0 EPSF-1.2\n%%BoundingBox: 0 0 9 9\n" + paint + "1 1 moveto 3 3 lineto 4 4 linet":  true,
		"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n%%EndProlog\n0 A 0.5 g 0 0 m 9 0 L 9 9 L f\n":  true,
		"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n" + paint + "/unfinished {1 2 add\n%%EOF-less": true,
	} {
		s, err := try("a.eps", []byte(text))
		if err != nil {
			t.Errorf("%s: %v", text, err)
			continue
		}
		said := false
		for _, n := range s.Notes {
			said = said || strings.Contains(n.Text(), "ends early") || strings.Contains(n.Text(), "behind an error")
		}
		if said != early {
			t.Errorf("%q: said so %v", text, said)
		}
	}
}
