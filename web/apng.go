package web

import (
	"bufio"
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/png"
	"io"
	"os"
)

// A clip as APNG (Portable Network Graphics, third edition, 11.3.2.8 to 11.3.2.10) is written frame by
// frame: each is a PNG file whose picture data goes into chunks of the clip, so that one frame is in
// memory at a time. All have 8 bits a channel and alpha, since the head of the file says it for all.

const pngSignature = "\x89PNG\r\n\x1a\n"

// clipWriter writes an APNG.
type clipWriter struct {
	w      *bufio.Writer
	frames int
	rate   int    // frames a second
	serial uint32 // of the next chunk that has a number
	begun  bool
}

// chunk writes one chunk (5.3).
func (c *clipWriter) chunk(kind string, data ...[]byte) {
	var n [4]byte
	size := 0
	for _, d := range data {
		size += len(d)
	}
	binary.BigEndian.PutUint32(n[:], uint32(size))
	c.w.Write(n[:])
	sum := crc32.NewIEEE()
	out := io.MultiWriter(c.w, sum)
	io.WriteString(out, kind)
	for _, d := range data {
		out.Write(d)
	}
	binary.BigEndian.PutUint32(n[:], sum.Sum32())
	c.w.Write(n[:])
}

func (c *clipWriter) number() []byte {
	c.serial++
	return binary.BigEndian.AppendUint32(nil, c.serial-1)
}

// add writes the next frame, which is a PNG file.
func (c *clipWriter) add(file []byte) error {
	rest := file[len(pngSignature):]
	first := !c.begun
	for len(rest) >= 12 {
		size := binary.BigEndian.Uint32(rest)
		kind, data := string(rest[4:8]), rest[8:8+size]
		rest = rest[12+size:]
		switch {
		case kind == "IHDR" && first:
			io.WriteString(c.w, pngSignature)
			c.chunk("IHDR", data)
			head := binary.BigEndian.AppendUint32(nil, uint32(c.frames))
			c.chunk("acTL", binary.BigEndian.AppendUint32(head, 0)) // without end
			c.begun = true
			fallthrough
		case kind == "IHDR":
			c.control(data[:8])
		case kind == "IDAT" && first:
			c.chunk("IDAT", data)
		case kind == "IDAT":
			c.chunk("fdAT", c.number(), data)
		}
	}
	return c.w.Flush()
}

// control writes how the frame is shown: all of the picture, in the place of the one before. size is
// width and height as the file has them.
func (c *clipWriter) control(size []byte) {
	b := append(c.number(), size...)
	b = append(b, make([]byte, 8)...) // from the corner
	b = binary.BigEndian.AppendUint16(b, 1)
	b = binary.BigEndian.AppendUint16(b, uint16(c.rate))
	c.chunk("fcTL", append(b, 0, 0))
}

// end closes the file.
func (c *clipWriter) end() error {
	c.chunk("IEND")
	return c.w.Flush()
}

// clear is a picture that is written with alpha even if all of it is opaque.
type clear struct{ *image.NRGBA }

func (clear) Opaque() bool { return false }

// WriteClip writes frames that are PNG files. Each is packed when there is room for it, which is free
// again before it is sent, however slowly that is taken.
func WriteClip(w *bufio.Writer, paths []string, rate int, room func() (free func(), err error)) error {
	c := &clipWriter{w: w, frames: len(paths), rate: rate}
	for _, path := range paths {
		free, err := room()
		if err != nil {
			return err
		}
		file, err := packed(path)
		free()
		if err == nil {
			err = c.add(file)
		}
		if err != nil {
			return fmt.Errorf("frame %s: %w", path, err)
		}
	}
	return c.end()
}

// packed returns a frame as a PNG file of 8 bits a channel with alpha.
func packed(path string) ([]byte, error) {
	img, err := readPNG(path)
	if err != nil {
		return nil, err
	}
	var file bytes.Buffer
	err = png.Encode(&file, clear{img})
	return file.Bytes(), err
}

// readPNG reads a frame with 8 bits a channel.
func readPNG(path string) (*image.NRGBA, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	img, err := png.Decode(f)
	if err != nil {
		return nil, err
	}
	b := img.Bounds()
	out := image.NewNRGBA(image.Rect(0, 0, b.Dx(), b.Dy()))
	switch img := img.(type) {
	case *image.NRGBA:
		copy(out.Pix, img.Pix)
	case *image.NRGBA64:
		for i := range out.Pix {
			out.Pix[i] = img.Pix[2*i]
		}
	default:
		for y := range b.Dy() {
			for x := range b.Dx() {
				out.Set(x, y, img.At(b.Min.X+x, b.Min.Y+y))
			}
		}
	}
	return out, nil
}
