package write

import (
	"archive/zip"
	"bufio"
	"bytes"
	"fmt"
	"hash/crc32"
	"io"
	"math"
	"strings"
)

// USDA writes all parts as the text form of Universal Scene Description (OpenUSD: UsdGeom,
// UsdShade, UsdLux): a mesh a part with a set of faces for each look, normals and texture
// coordinates by corner, preview surfaces; and of a film camera, lights and motion as time
// samples. Lengths in mm, y up. film may be nil.
func USDA(w io.Writer, parts []Part, film *Film) error {
	u := &usd{b: bufio.NewWriterSize(w, 1<<16)}
	frames := 1
	if film != nil {
		frames = max(1, len(film.Camera))
	}
	u.line(0, "#usda 1.0")
	u.line(0, "(")
	u.line(1, `defaultPrim = "piece"`)
	u.line(1, `doc = "Bildhauer"`)
	u.line(1, "metersPerUnit = 0.001")
	u.line(1, `upAxis = "Y"`)
	if film != nil {
		u.line(1, "startTimeCode = 0")
		u.line(1, "endTimeCode = %d", frames-1)
		u.line(1, "timeCodesPerSecond = %g", film.Rate)
	}
	u.line(0, ")")
	u.openAs(0, `def Xform "piece"`, `kind = "component"`)
	names := primNames(namesOf(parts))
	paints := primNames(paintNames(parts))
	var looks []usdLook
	for i := range parts {
		var at []Stand
		if film != nil {
			at = film.Parts[i]
		}
		u.mesh(names[i], &parts[i], paints, &looks, at)
		paints = paints[len(parts[i].paints()):]
	}
	u.open(1, `def Scope "looks"`)
	for _, l := range looks {
		u.look(l)
	}
	u.close(1)
	u.close(0)
	if film != nil {
		u.film(film)
	}
	return u.b.Flush()
}

// USDZ is the same as one file to hand on: an archive without compression in which content
// begins at multiples of 64 bytes (OpenUSD, Usdz File Format Specification).
func USDZ(w io.Writer, parts []Part, film *Film) error {
	var text bytes.Buffer
	if err := USDA(&text, parts, film); err != nil {
		return err
	}
	const name = "piece.usda"
	const head = 30 + len(name) // of the archive's only entry
	pad := (64 - (head+4)%64) % 64
	extra := make([]byte, 4+pad)
	extra[0], extra[1], extra[2], extra[3] = 0x86, 0x19, byte(pad), byte(pad>>8) // a field that nobody reads
	z := zip.NewWriter(w)
	entry, err := z.CreateRaw(&zip.FileHeader{
		Name: name, Method: zip.Store, Extra: extra, CRC32: crc32.ChecksumIEEE(text.Bytes()),
		CompressedSize64: uint64(text.Len()), UncompressedSize64: uint64(text.Len()),
	})
	if err != nil {
		return err
	}
	if _, err := entry.Write(text.Bytes()); err != nil {
		return err
	}
	return z.Close()
}

type usd struct{ b *bufio.Writer }

// vertexwise says that there is a value for each point.
const vertexwise = " (\n            interpolation = \"vertex\"\n        )"

type usdLook struct {
	name string
	look Look
}

func (u *usd) line(deep int, format string, a ...any) {
	u.b.WriteString(strings.Repeat("    ", deep))
	fmt.Fprintf(u.b, format, a...)
	u.b.WriteByte('\n')
}

func (u *usd) open(deep int, head string) {
	u.line(deep, "%s", head)
	u.line(deep, "{")
}

// openAs opens a prim with something said about it.
func (u *usd) openAs(deep int, head, about string) {
	u.line(deep, "%s (", head)
	u.line(deep+1, "%s", about)
	u.line(deep, ")")
	u.line(deep, "{")
}

func (u *usd) close(deep int) { u.line(deep, "}") }

// list writes an attribute with n values.
func (u *usd) list(deep int, head string, n int, value func(b *bufio.Writer, i int), tail string) {
	u.b.WriteString(strings.Repeat("    ", deep) + head + " = [")
	for i := range n {
		if i > 0 {
			u.b.WriteString(", ")
		}
		value(u.b, i)
	}
	u.b.WriteString("]" + tail + "\n")
}

func (u *usd) mesh(name string, p *Part, paints []string, looks *[]usdLook, at []Stand) {
	pos, nrm, uv, idx := Corners(*p)
	lo, hi := p.Mesh.Box()
	u.open(1, fmt.Sprintf("def Mesh %q", name))
	u.line(2, "uniform token subdivisionScheme = \"none\"")
	u.line(2, "float3[] extent = [(%g, %g, %g), (%g, %g, %g)]", lo[0], lo[1], lo[2], hi[0], hi[1], hi[2])
	u.list(2, "point3f[] points", len(pos), func(b *bufio.Writer, i int) { fmt.Fprintf(b, "(%g, %g, %g)", pos[i][0], pos[i][1], pos[i][2]) }, "")
	u.list(2, "int[] faceVertexCounts", len(idx)/3, func(b *bufio.Writer, _ int) { b.WriteByte('3') }, "")
	u.list(2, "int[] faceVertexIndices", len(idx), func(b *bufio.Writer, i int) { fmt.Fprint(b, idx[i]) }, "")
	if nrm != nil {
		u.list(2, "normal3f[] normals", len(nrm), func(b *bufio.Writer, i int) {
			fmt.Fprintf(b, "(%g, %g, %g)", nrm[i][0], nrm[i][1], nrm[i][2])
		}, vertexwise)
	}
	if uv != nil {
		u.list(2, "texCoord2f[] primvars:st", len(uv), func(b *bufio.Writer, i int) { fmt.Fprintf(b, "(%g, %g)", uv[i][0], uv[i][1]) },
			vertexwise)
	}
	if len(at) > 0 {
		u.stand(2, at)
	}
	u.line(2, `uniform token subsetFamily:materialBind:familyType = "partition"`)
	// Faces by look: those of one paint that look alike.
	var sets [][]int
	var own []int // of each set: its look
	for k := range p.Mesh.Tris {
		n := p.paintOf(k)
		paint := &p.paints()[n]
		look := plainLook(paint.Color)
		if g := int(p.Mesh.Group[k]); g < len(paint.Looks) {
			look = paint.Looks[g]
		}
		which := -1
		for s, l := range own {
			if (*looks)[l].look == look && strings.HasPrefix((*looks)[l].name, paints[n]+"_") {
				which = s
			}
		}
		if which < 0 {
			which = len(sets)
			sets, own = append(sets, nil), append(own, len(*looks))
			*looks = append(*looks, usdLook{fmt.Sprintf("%s_%d", paints[n], which), look})
		}
		sets[which] = append(sets[which], k)
	}
	for s, faces := range sets {
		l := (*looks)[own[s]].name
		u.openAs(2, fmt.Sprintf("def GeomSubset %q", "faces_"+l), `prepend apiSchemas = ["MaterialBindingAPI"]`)
		u.line(3, `uniform token elementType = "face"`)
		u.line(3, `uniform token familyName = "materialBind"`)
		u.list(3, "int[] indices", len(faces), func(b *bufio.Writer, i int) { fmt.Fprint(b, faces[i]) }, "")
		u.line(3, "rel material:binding = </piece/looks/%s>", l)
		u.close(2)
	}
	u.close(1)
}

func (u *usd) look(l usdLook) {
	c := linear(l.look.Color)
	u.open(2, fmt.Sprintf("def Material %q", l.name))
	u.line(3, "token outputs:surface.connect = </piece/looks/%s/preview.outputs:surface>", l.name)
	u.open(3, `def Shader "preview"`)
	u.line(4, `uniform token info:id = "UsdPreviewSurface"`)
	u.line(4, "color3f inputs:diffuseColor = (%.6g, %.6g, %.6g)", c[0], c[1], c[2])
	u.line(4, "float inputs:metallic = %g", l.look.Metal)
	u.line(4, "float inputs:roughness = %g", l.look.Rough)
	if l.look.Coat > 0 {
		u.line(4, "float inputs:clearcoat = %g", l.look.Coat)
		u.line(4, "float inputs:clearcoatRoughness = %g", l.look.CoatRough)
	}
	if l.look.Glow > 0 {
		g := l.look.Glow
		u.line(4, "color3f inputs:emissiveColor = (%.6g, %.6g, %.6g)", c[0]*g, c[1]*g, c[2]*g)
	}
	if l.look.Clear > 0 {
		u.line(4, "float inputs:opacity = %g", 1-0.85*l.look.Clear)
		u.line(4, "float inputs:ior = %g", l.look.Index)
	}
	u.line(4, "token outputs:surface")
	u.close(3)
	u.close(2)
}

// matrix writes a stand as USD has it: rows, with the place in the last.
func (s *Stand) matrix() string {
	x, y, z, w := s.Turn[0], s.Turn[1], s.Turn[2], s.Turn[3]
	k := s.Size
	return fmt.Sprintf("( (%.9g, %.9g, %.9g, 0), (%.9g, %.9g, %.9g, 0), (%.9g, %.9g, %.9g, 0), (%.9g, %.9g, %.9g, 1) )",
		k*(1-2*(y*y+z*z)), k*2*(x*y+z*w), k*2*(x*z-y*w),
		k*2*(x*y-z*w), k*(1-2*(x*x+z*z)), k*2*(y*z+x*w),
		k*2*(x*z+y*w), k*2*(y*z-x*w), k*(1-2*(x*x+y*y)),
		s.At[0], s.At[1], s.At[2])
}

// stand writes where something is, over time when it moves.
func (u *usd) stand(deep int, at []Stand) {
	moves := false
	for i := range at {
		moves = moves || at[i] != at[0]
	}
	if !moves {
		u.line(deep, "matrix4d xformOp:transform = %s", at[0].matrix())
	} else {
		u.line(deep, "matrix4d xformOp:transform.timeSamples = {")
		for i := range at {
			u.line(deep+1, "%d: %s,", i, at[i].matrix())
		}
		u.line(deep, "}")
	}
	u.line(deep, `uniform token[] xformOpOrder = ["xformOp:transform"]`)
}

// film writes camera and lights. A film is 36 mm wide; lights of a spot's or panel's
// strength in candela are small balls that shine into a cone.
func (u *usd) film(f *Film) {
	if len(f.Camera) > 0 {
		const wide = 36
		high := wide / f.Lens[1]
		u.open(0, `def Camera "camera"`)
		u.line(1, `token projection = "perspective"`)
		u.line(1, "float horizontalAperture = %d", wide)
		u.line(1, "float verticalAperture = %g", high)
		u.line(1, "float focalLength = %.6g", high/2/math.Tan(f.Lens[0]/2))
		u.line(1, "float2 clippingRange = (1, 1000000)")
		u.stand(1, f.Camera)
		u.close(0)
	}
	var names []string
	for _, l := range f.Lamps {
		names = append(names, l.Name)
	}
	for i, name := range primNames(names) {
		l := &f.Lamps[i]
		if l.Kind == "directional" {
			u.open(0, fmt.Sprintf("def DistantLight %q", "lamp_"+name))
			u.line(1, "float inputs:angle = 0.5")
			u.line(1, "float inputs:intensity = %.6g", l.Strength)
		} else {
			const radius = 5 // mm
			u.openAs(0, fmt.Sprintf("def SphereLight %q", "lamp_"+name), `prepend apiSchemas = ["ShapingAPI"]`)
			u.line(1, "float inputs:radius = %d", radius)
			// A ball of radius r and radiance L shines with pi r^2 L; the strength is per metre.
			u.line(1, "float inputs:intensity = %.6g", l.Strength*1e6/(math.Pi*radius*radius))
			u.line(1, "float inputs:shaping:cone:angle = %.6g", l.Outer*180/math.Pi)
			u.line(1, "float inputs:shaping:cone:softness = %.6g", 1-l.Inner/math.Max(l.Outer, 1e-9))
		}
		u.line(1, "color3f inputs:color = (%.6g, %.6g, %.6g)", l.Color[0], l.Color[1], l.Color[2])
		u.stand(1, l.At)
		u.close(0)
	}
}

// primNames makes names of what USD allows for prims: letters, digits and _, not beginning
// with a digit; none twice.
func primNames(list []string) []string {
	out := make([]string, len(list))
	for i, s := range list {
		out[i] = strings.Map(func(r rune) rune {
			if r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' {
				return r
			}
			return '_'
		}, s)
		if out[i] == "" || out[i][0] >= '0' && out[i][0] <= '9' {
			out[i] = "p" + out[i]
		}
	}
	return uniqueNames(out)
}
