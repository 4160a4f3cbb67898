package stages

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/png"
	"io"

	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/progress"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/core/write"
)

// PictureFormats names the formats of pictures: PNG of 16 and of 8 bits, OpenEXR, Radiance.
var PictureFormats = []string{"png", "png8", "exr", "hdr"}

// moments is of how many moments of an open shutter one is drawn for each sample: more than a pixel ever has.
const moments = 256

// Expose exposes a film to a piece at a frame until every pixel has so many samples; told is
// that of picture.Make. It returns the exposure in stops.
func Expose(
	ctx context.Context, s *Shown, frame float64, f *picture.Film, samples int, told func(have int) bool,
) (exposure float64, err error) {
	return ExposeTo(ctx, s, frame, f, picture.Goal{Samples: samples}, func(have int, _ float64) bool { return told(have) })
}

// Quality is how good a picture is wanted.
type Quality struct {
	Name string
	Goal picture.Goal
}

// Qualities are those by name. Their noise is that before the filter: good is what the clock of the demo has with some six
// samples a pixel, after which hardly any grain is left.
var Qualities = []Quality{
	{"draft", picture.Goal{Noise: 0.5, Samples: 4}}, {"good", picture.Goal{Noise: 0.24, Samples: 256}},
	{"final", picture.Goal{Noise: 0.05, Samples: 4096}},
}

// GoalOf returns the goal of a quality.
func GoalOf(name string) (picture.Goal, bool) {
	for _, q := range Qualities {
		if q.Name == name {
			return q.Goal, true
		}
	}
	return picture.Goal{}, false
}

// ExposeTo is Expose until a goal is reached; told is that of picture.MakeTo.
func ExposeTo(
	ctx context.Context, s *Shown, frame float64, f *picture.Film, goal picture.Goal, told func(have int, share float64) bool,
) (exposure float64, err error) {
	n, shutter := 1, s.Scene.Motion.Shutter
	if shutter > 0 && len(s.Scene.Motion.Tracks) > 0 {
		n = moments
	}
	scene, exposure := show.During(&s.Scene, s.Shapes(), s.Own.Value, frame, shutter, n, f.Tracks())
	return exposure, scene.MakeTo(ctx, f, goal, told)
}

// Encoding is how a film becomes a file.
type Encoding struct {
	Format   string // one of PictureFormats
	Raw      bool   // the noise stays
	Calm     bool   // it goes from files of linear light, too, with what fireflies bring
	Passes   bool   // of an EXR: depth, normals, shadow and a mask for each part
	Contrast string
	Exposure float64
}

// NewFilm returns a film for a picture of a piece; it keeps what an encoding asks for.
func NewFilm(s *Shown, w, h int, seed uint32, e *Encoding) *picture.Film {
	f := picture.NewFilm(w, h, seed)
	if e.Passes {
		f.Mask(len(s.MasksOf()))
		f.Track()
	}
	return f
}

// PictureBytes returns about how much memory a picture takes while it is made.
func PictureBytes(w, h, masks int) int64 {
	if masks > 0 {
		masks = 3*masks + 3 + 1 // how fast things move, in two figures, and of how many samples; a mask as it is written
	}
	return picture.Bytes(w, h) + 4*int64(w)*int64(h)*int64(masks)
}

// Write writes a film as a file.
func (e *Encoding) Write(w io.Writer, f *picture.Film, s *Shown) error {
	made := f.Picture()
	switch {
	case e.Format == "exr" || e.Format == "hdr": // light as it was measured
		if made = f.Whole(); e.Calm {
			made = f.Filtered()
		}
	case !e.Raw:
		made = f.Filtered()
	}
	switch e.Format {
	case "exr":
		var channels []write.Channel
		for _, c := range f.Passes(made, e.Passes, s.MasksOf()...) {
			channels = append(channels, write.Channel{Name: c.Name, Values: c.Values, Float: c.Exact})
		}
		return write.EXR(w, f.W, f.H, channels)
	case "hdr":
		return write.HDR(w, f.W, f.H, func(i int) [3]float64 { return made.Light[i] })
	case "", "png", "png8":
		img := made.Image(picture.ContrastOf(e.Contrast), e.Exposure)
		if e.Format == "png8" {
			return png.Encode(w, eight(img))
		}
		return png.Encode(w, img)
	}
	return errors.New("pictures are written as png, png8, exr or hdr")
}

// eight rounds a picture to 8 bits.
func eight(img *image.NRGBA64) *image.NRGBA {
	out := image.NewNRGBA(img.Rect)
	for i := range out.Pix {
		v := uint32(img.Pix[2*i])<<8 | uint32(img.Pix[2*i+1])
		out.Pix[i] = uint8((v*255 + 32767) / 65535)
	}
	return out
}

// PictureInput is what a picture is made of.
type PictureInput struct {
	Shown Shown
	W, H  int // px
	Goal  picture.Goal
	Frame float64
}

// Picture makes a picture as a PNG file.
var Picture = Stage[PictureInput, []byte]{
	Name: "picture",
	Run:  makePicture,
	Size: func(b []byte) int64 { return int64(len(b)) },
	Need: func(in PictureInput) int64 { return picture.Bytes(in.W, in.H) + in.Shown.Bytes() },
}

// Bytes returns about how much memory what light meets takes.
func (s *Shown) Bytes() (n int64) {
	for _, b := range s.Bodies {
		n += 2 * b.Solid.Value.Mesh.Bytes()
	}
	return n
}

func makePicture(ctx context.Context, in PictureInput) ([]byte, error) {
	in.Shown.Scene.Camera.Aspect = fmt.Sprintf("%d:%d", in.W, in.H)
	film := picture.NewFilm(in.W, in.H, 1)
	exposure, err := ExposeTo(ctx, &in.Shown, in.Frame, film, in.Goal, func(_ int, share float64) bool {
		progress.Set(ctx, "Making the picture", share)
		return true
	})
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	e := Encoding{Format: "png8", Contrast: in.Shown.Scene.Contrast, Exposure: exposure}
	err = e.Write(&out, film, &in.Shown)
	return out.Bytes(), err
}

// AmbienceInput is what lights a piece from all around, and where it is.
type AmbienceInput struct {
	Scene  recipe.Scene // of it: lamps, surroundings and backdrop
	Own    Made[*picture.Panorama]
	Lo, Hi geom.Vec3 // the box of the piece at rest
}

// Ambience works out what falls on a piece from all around, for views that do not follow
// light.
var Ambience = Stage[AmbienceInput, *picture.Ambience]{
	Name: "ambience",
	Run: func(ctx context.Context, in AmbienceInput) (*picture.Ambience, error) {
		around, middle := show.Surrounding(&in.Scene, in.Lo, in.Hi, in.Own.Value)
		return around.Ambience(ctx, middle)
	},
	Size: func(a *picture.Ambience) int64 { return a.Bytes() },
}

// AmbienceInput returns what lights the piece at a frame.
func (s *Shown) AmbienceInput(frame float64) AmbienceInput {
	t := s.StillAt(frame)
	in := AmbienceInput{Own: s.Own}
	in.Lo, in.Hi = t.Rest()
	in.Scene = recipe.Scene{
		Lamps: t.Scene.Lamps, Setting: t.Scene.Setting, Surroundings: t.Scene.Surroundings, Backdrop: t.Scene.Backdrop,
	}
	return in
}

// SampleInput is a material whose picture is asked for.
type SampleInput struct {
	Material recipe.Material
	Size     int // px
}

// Sample makes a small picture of a material as a PNG file.
var Sample = Stage[SampleInput, []byte]{
	Name: "sample",
	Run: func(ctx context.Context, in SampleInput) ([]byte, error) {
		film := picture.NewFilm(in.Size, in.Size, 1)
		scene := show.Sample(&in.Material)
		if err := scene.Make(ctx, film, 16, func(int) bool { return true }); err != nil {
			return nil, err
		}
		var out bytes.Buffer
		err := png.Encode(&out, eight(film.Filtered().Image(picture.Soft, 0)))
		return out.Bytes(), err
	},
	Size: func(b []byte) int64 { return int64(len(b)) },
	Need: func(in SampleInput) int64 { return picture.Bytes(in.Size, in.Size) },
}
