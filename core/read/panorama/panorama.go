// Package panorama reads Radiance HDR pictures of what is all around (RGBE; Ward, Real
// pixels, Graphics Gems II, 1991).
package panorama

import (
	"bytes"
	"errors"
	"fmt"

	"github.com/mdouchement/hdr"
	"github.com/mdouchement/hdr/codec/rgbe"
)

// MaxSide bounds the width: 4,096 by 2,048 pixels take some 100 MB while they are read.
const MaxSide = 4096

// MaxBytes bounds the file: as many pixels of four bytes that can't be packed, and a header.
const MaxBytes = MaxSide*MaxSide/2*4 + 1<<16

// Picture is light from all around: rows from straight up to straight down.
type Picture struct {
	W, H int
	Pix  [][3]float32 // linear
}

// Read reads a picture twice as wide as high. Errors are ends of sentences about the file.
func Read(data []byte) (out *Picture, err error) {
	defer func() { // the library trusts what it reads
		if recover() != nil {
			out, err = nil, errors.New("is damaged: its picture breaks off")
		}
	}()
	if len(data) > MaxBytes {
		return nil, fmt.Errorf("has %d MB; a panorama may have %d", len(data)>>20, MaxBytes>>20)
	}
	if !bytes.HasPrefix(data, []byte("#?")) {
		return nil, errors.New("is no Radiance HDR picture; those end in .hdr or .pic and begin with #?RADIANCE")
	}
	size, err := rgbe.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("has a header that can't be read: %w", err)
	}
	w, h := size.Width, size.Height
	if w < 2 || h < 1 || w > MaxSide || h > MaxSide {
		return nil, fmt.Errorf("has %d by %d pixels; a panorama has up to %d by %d. Make it smaller", w, h, MaxSide, MaxSide/2)
	}
	if r := float64(w) / float64(h); r < 1.9 || r > 2.1 {
		return nil, fmt.Errorf("has %d by %d pixels; a panorama of all directions is twice as wide as high", w, h)
	}
	img, err := rgbe.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("is damaged: %w", err)
	}
	light, ok := img.(hdr.Image)
	if !ok {
		return nil, errors.New("holds no light that can be read")
	}
	out = &Picture{W: w, H: h, Pix: make([][3]float32, w*h)}
	for y := range h {
		for x := range w {
			r, g, b, _ := light.HDRAt(x, y).HDRRGBA()
			out.Pix[y*w+x] = [3]float32{float32(r), float32(g), float32(b)}
		}
	}
	return out, nil
}
