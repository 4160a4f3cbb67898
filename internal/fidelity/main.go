// Command fidelity compares cleaned outlines with their originals, both drawn
// by an independent renderer (librsvg's rsvg-convert).
//
//	go run ./internal/fidelity [-size 512] [-keep DIR] FILE...
package main

import (
	"bytes"
	"context"
	"flag"
	"fmt"
	"image"
	"image/png"
	"io"
	"log"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"sort"
	"strings"
	"sync"

	xdraw "golang.org/x/image/draw"

	"bildhauer/core/read"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
	"bildhauer/internal/likeness"
)

type result struct {
	file  string
	share float64 // of inked pixels that differ
	notes string
	err   error
}

// viaPDF is set by the flag.
var viaPDF bool

func main() {
	size := flag.Int("size", 512, "")
	keep := flag.String("keep", "", "keep the pictures that differ here")
	worst := flag.Int("worst", 20, "")
	flag.BoolVar(
		&viaPDF,
		"via-pdf",
		false,
		"let the EPS renderer write PDF, and draw that without its device's pixel rules",
	)
	table := flag.Bool("table", false, "tell for each file whether it is alike, and else what the report says")
	refs := flag.Bool("references", false, "draw each original by its reference renderer, beside it")
	flag.Parse()
	if _, err := exec.LookPath("rsvg-convert"); err != nil {
		log.Fatal("rsvg-convert is missing: apt-get install librsvg2-bin")
	}
	files := flag.Args()
	if *refs {
		for _, path := range files {
			if err := reference(path, *size); err != nil {
				log.Fatal(path, ": ", err)
			}
		}
		return
	}
	results := make([]result, len(files))
	var wg sync.WaitGroup
	next := make(chan int)
	for range runtime.GOMAXPROCS(0) {
		wg.Go(func() {
			for i := range next {
				results[i] = compare(files[i], *size, *keep)
			}
		})
	}
	for i := range files {
		next <- i
	}
	close(next)
	wg.Wait()
	if *table {
		verdicts(results)
		return
	}
	good, failed := 0, 0
	for _, r := range results {
		switch {
		case r.err != nil:
			failed++
		case r.share < 0.01:
			good++
		}
	}
	sort.SliceStable(results, func(i, j int) bool {
		if (results[i].err != nil) != (results[j].err != nil) {
			return results[i].err != nil
		}
		return results[i].share > results[j].share
	})
	for _, r := range results[:min(*worst, len(results))] {
		if r.err != nil {
			fmt.Println("failed:", r.err)
		} else if r.share >= 0.01 {
			fmt.Printf("%6.2f%%  %s  %s\n", 100*r.share, filepath.Base(r.file), r.notes)
		}
	}
	fmt.Printf(
		"%d of %d files (%.1f%%) within 1%%, %d refused\n",
		good,
		len(files),
		100*float64(good)/float64(max(1, len(files))),
		failed,
	)
}

// verdicts prints a line a file: alike (within 1% of the ink), said (the report names what is
// different), silent (it does not), or refused, with the reason; and how many there are of each.
func verdicts(results []result) {
	counts := map[string]int{}
	for _, r := range results {
		verdict, more := "alike", ""
		switch {
		case r.err != nil:
			verdict, more = "refused", r.err.Error()
		case r.share >= 0.01 && r.notes == "":
			verdict = "silent"
		case r.share >= 0.01:
			verdict, more = "said", r.notes
		}
		counts[verdict]++
		fmt.Printf("%-8s %6.2f%%  %s  %s\n", verdict, 100*r.share, filepath.Base(r.file), more)
	}
	fmt.Printf("%d files: %d alike, %d said, %d silent, %d refused\n",
		len(results), counts["alike"], counts["said"], counts["silent"], counts["refused"])
}

func compare(path string, size int, keep string) result {
	r := result{file: path}
	data, err := os.ReadFile(path)
	if err != nil {
		r.err = err
		return r
	}
	s, err := read.Sheet(path, data)
	if err != nil {
		r.err = err
		return r
	}
	var notes []string
	for _, n := range s.Notes {
		notes = append(notes, n.Text())
	}
	r.notes = strings.Join(notes, "; ")
	var b bytes.Buffer
	rec := recipe.Intake{}
	if err := write.CleanSVG(context.Background(), &b, s, func(i int) bool { return !s.Shapes[i].Hidden && rec.Included(s, i) }, max(s.Page.W(), s.Page.H())/5000); err != nil {
		r.err = fmt.Errorf("%s: %w", path, err)
		return r
	}
	want, err := original(path, data, size, s.Page.W()*0.75, s.Page.H()*0.75)
	if err != nil {
		r.err = fmt.Errorf("%s: the renderer refuses it: %w", path, err)
		return r
	}
	got, err := draw(b.Bytes(), size)
	if err != nil {
		r.err = fmt.Errorf("%s: the renderer refuses the cleaned file: %w", path, err)
		return r
	}
	// Renderers may round the size of a page differently.
	if dx, dy := want.Bounds().Dx()-got.Bounds().Dx(), want.Bounds().Dy()-got.Bounds().Dy(); abs(dx) > 1 ||
		abs(dy) > 1 {
		r.share = 1
		r.notes += fmt.Sprintf(" (size %v became %v)", want.Bounds(), got.Bounds())
		return r
	}
	r.share = likeness.Differing(want, got)
	if keep != "" && r.share >= 0.01 {
		base := filepath.Join(keep, strings.TrimSuffix(filepath.Base(path), ".svg"))
		os.MkdirAll(keep, 0o755)
		save(base+".want.png", want)
		save(base+".got.png", got)
	}
	return r
}

// reference writes the picture that the tests of the readers compare with.
func reference(path string, size int) error {
	data, err := os.ReadFile(path)
	if err != nil {
		return err
	}
	s, err := read.Sheet(path, data)
	if err != nil {
		return err
	}
	m, err := original(path, data, size, s.Page.W()*0.75, s.Page.H()*0.75)
	if err != nil {
		return err
	}
	save(path+".png", m)
	return nil
}

// original draws the file by the reference renderer of its format.
// w and h are the size of the page in points.
func original(path string, data []byte, size int, w, h float64) (image.Image, error) {
	switch read.Detect(data) {
	case "eps":
		if viaPDF {
			f, err := os.CreateTemp("", "fidelity-*.pdf")
			if err != nil {
				return nil, err
			}
			f.Close()
			defer os.Remove(f.Name())
			if err := exec.Command("gs", "-q", "-dSAFER", "-dNOPAUSE", "-dBATCH", "-dEPSCrop", "-sDEVICE=pdfwrite", "-sOutputFile="+f.Name(), path).Run(); err != nil {
				return nil, err
			}
			return drawPDF(f.Name(), size)
		}
	case "pdf":
		return drawPDF(path, size)
	default:
		return draw(data, size)
	}
	// Four times as fine, since it paints every pixel that a shape touches.
	res := fmt.Sprintf("-r%.2f", 4*72*float64(size)/max(w, h, 1))
	got, err := exec.Command("gs", "-q", "-dSAFER", "-dNOPAUSE", "-dBATCH", "-dEPSCrop", "-sDEVICE=pngalpha", "-dGraphicsAlphaBits=1", "-dTextAlphaBits=1", res, "-sOutputFile=-", path).
		Output()
	if err != nil {
		return nil, err
	}
	big, err := png.Decode(bytes.NewReader(got))
	if err != nil {
		return nil, err
	}
	b := big.Bounds()
	k := float64(size) / float64(max(b.Dx(), b.Dy()))
	out := image.NewRGBA(
		image.Rect(0, 0, max(1, int(float64(b.Dx())*k+0.5)), max(1, int(float64(b.Dy())*k+0.5))),
	)
	xdraw.CatmullRom.Scale(out, out.Bounds(), big, b, xdraw.Src, nil)
	return out, nil
}

func drawPDF(path string, size int) (image.Image, error) {
	got, err := exec.Command("pdftocairo", "-png", "-singlefile", "-transp", "-cropbox", "-scale-to", fmt.Sprint(size), path, "-").
		Output()
	if err != nil {
		return nil, err
	}
	return png.Decode(bytes.NewReader(got))
}

func abs(x int) int {
	if x < 0 {
		return -x
	}
	return x
}

func draw(svg []byte, size int) (image.Image, error) {
	c := exec.Command("rsvg-convert", "-w", fmt.Sprint(size), "-h", fmt.Sprint(size), "--keep-aspect-ratio", "--accept-language", "en")
	c.Stdin = bytes.NewReader(svg)
	var out, msg bytes.Buffer
	c.Stdout, c.Stderr = &out, &msg
	if err := c.Run(); err != nil {
		text, _ := io.ReadAll(&msg)
		return nil, fmt.Errorf("%v %s", err, text)
	}
	return png.Decode(&out)
}

func save(path string, m image.Image) {
	f, err := os.Create(path)
	if err != nil {
		return
	}
	defer f.Close()
	png.Encode(f, m)
}
