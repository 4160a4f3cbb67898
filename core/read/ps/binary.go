package ps

import (
	"encoding/binary"
	"math"
	"strings"
)

// systemNames are the names that binary tokens refer to by number (PLRM
// appendix F).
var systemNames = strings.Fields(
	`abs add aload anchorsearch and arc arcn arct arcto array ashow astore awidthshow begin bind bitshift
ceiling charpath clear cleartomark clip clippath closepath concat concatmatrix copy count counttomark currentcmykcolor currentdash currentdict
currentfile currentfont currentgray currentgstate currenthsbcolor currentlinecap currentlinejoin currentlinewidth currentmatrix currentpoint
currentrgbcolor currentshared curveto cvi cvlit cvn cvr cvrs cvs cvx def defineusername dict div dtransform dup end eoclip eofill eoviewclip eq
exch exec exit file fill findfont flattenpath floor flush flushfile for forall ge get getinterval grestore gsave gstate gt identmatrix idiv
idtransform if ifelse image imagemask index ineofill infill initviewclip inueofill inufill invertmatrix itransform known le length lineto load
loop lt makefont matrix maxlength mod moveto mul ne neg newpath not null or pathbbox pathforall pop print printobject put putinterval rcurveto
read readhexstring readline readstring rectclip rectfill rectstroke rectviewclip repeat restore rlineto rmoveto roll rotate round save scale
scalefont search selectfont setbbox setcachedevice setcachedevice2 setcharwidth setcmykcolor setdash setfont setgray setgstate sethsbcolor
setlinecap setlinejoin setlinewidth setmatrix setrgbcolor setshared shareddict show showpage stop stopped store string stringwidth stroke
strokepath sub systemdict token transform translate truncate type uappend ucache ueofill ufill undef upath userdict ustroke viewclip
viewclippath where widthshow write writehexstring writeobject writestring wtranslation xor xshow xyshow yshow FontDirectory SharedFontDirectory`,
)

// fontNames are those from number 199 on.
var fontNames = strings.Fields(
	`Courier Courier-Bold Courier-BoldOblique Courier-Oblique Helvetica Helvetica-Bold Helvetica-BoldOblique
Helvetica-Oblique Symbol Times-Bold Times-BoldItalic Times-Italic Times-Roman`,
)

// laterNames are those of level 2 from number 212 on.
var laterNames = strings.Fields(
	`execuserobject currentcolor currentcolorspace currentglobal execform filter findresource globaldict makepattern
setcolor setcolorspace setglobal setpagedevice setpattern`,
)

func systemName(n int) string {
	switch {
	case n < len(systemNames):
		return systemNames[n]
	case n >= 199 && n-199 < len(fontNames):
		return fontNames[n-199]
	case n >= 212 && n-212 < len(laterNames):
		return laterNames[n-212]
	}
	return ""
}

// binaryToken reads a token of the binary encoding (PLRM 3.14.1); ok is false
// for bytes that begin none.
func (s *scanner) binaryToken() (o object, ok bool) {
	b := s.b[s.i:]
	size := 0
	switch b[0] {
	case 132, 133, 134, 135, 136, 138, 139:
		o, size = binaryNumber(b)
	case 137:
		if len(b) >= 2 {
			o, size, ok = fixed(b[1], b[2:])
			s.i += 2 + size
			return o, ok
		}
	case 141:
		if len(b) >= 2 {
			o, size = boolean(b[1] != 0), 2
		}
	case 142, 143, 144:
		o, size = binaryString(b)
	case 145, 146:
		if len(b) >= 2 && systemName(int(b[1])) != "" {
			o, size = name(systemName(int(b[1])), b[0] == 146), 2
		}
	case 149:
		o, size = binaryArray(b)
	}
	s.i += size
	return o, size > 0
}

// binaryNumber reads an integer or a real number and returns how many bytes it
// took, 0 when there are too few.
func binaryNumber(b []byte) (object, int) {
	little := b[0] == 133 || b[0] == 135 || b[0] == 139
	var order binary.ByteOrder = binary.BigEndian
	if little {
		order = binary.LittleEndian
	}
	switch {
	case b[0] == 136 && len(b) >= 2:
		return integer(int(int8(b[1]))), 2
	case (b[0] == 134 || b[0] == 135) && len(b) >= 3:
		return integer(int(int16(order.Uint16(b[1:])))), 3
	case (b[0] == 132 || b[0] == 133) && len(b) >= 5:
		return integer(int(int32(order.Uint32(b[1:])))), 5
	case b[0] >= 138 && len(b) >= 5:
		return realNum(float64(math.Float32frombits(order.Uint32(b[1:])))), 5
	}
	return object{}, 0
}

// binaryString reads a string with a short or a long count.
func binaryString(b []byte) (object, int) {
	head, n := 2, 0
	switch {
	case b[0] == 142 && len(b) >= 2:
		n = int(b[1])
	case b[0] == 143 && len(b) >= 3:
		head, n = 3, int(binary.BigEndian.Uint16(b[1:]))
	case b[0] == 144 && len(b) >= 3:
		head, n = 3, int(binary.LittleEndian.Uint16(b[1:]))
	}
	if len(b) < head+n {
		return object{}, 0
	}
	return object{kind: kString, ref: &str{append([]byte(nil), b[head:head+n]...)}}, head + n
}

// binaryArray reads an array of numbers of one kind.
func binaryArray(b []byte) (object, int) {
	if len(b) < 4 {
		return object{}, 0
	}
	n := int(binary.BigEndian.Uint16(b[2:]))
	if b[1] >= 128 {
		n = int(binary.LittleEndian.Uint16(b[2:]))
	}
	a := &array{}
	at := 4
	for range n {
		o, size, ok := fixed(b[1], b[min(at, len(b)):])
		if !ok {
			return object{}, 0
		}
		a.v = append(a.v, o)
		at += size
	}
	return object{kind: kArray, ref: a}, at
}

// fixed reads a number in one of the representations of fixed-point tokens and
// number arrays, and its size.
func fixed(r byte, b []byte) (object, int, bool) {
	var order binary.ByteOrder = binary.BigEndian
	if r >= 128 {
		r -= 128
		order = binary.LittleEndian
	}
	switch {
	case r < 32 && len(b) >= 4:
		v := int32(order.Uint32(b))
		if r == 0 {
			return integer(int(v)), 4, true
		}
		return realNum(float64(v) / float64(uint64(1)<<r)), 4, true
	case r >= 32 && r < 48 && len(b) >= 2:
		v := int16(order.Uint16(b))
		if r == 32 {
			return integer(int(v)), 2, true
		}
		return realNum(float64(v) / float64(uint64(1)<<(r-32))), 2, true
	case r == 48 && len(b) >= 4:
		return realNum(float64(math.Float32frombits(order.Uint32(b)))), 4, true
	case r == 49 && len(b) >= 4:
		return realNum(float64(math.Float32frombits(binary.LittleEndian.Uint32(b)))), 4, true
	}
	return object{}, 0, false
}
