package main

import (
	"bufio"
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"image/png"
	"io"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"bildhauer/store"
)

// program is the application in a process of its own.
type program struct {
	cmd     *exec.Cmd
	address string
}

func launch(t *testing.T, dir string) *program {
	t.Helper()
	self, err := os.Executable()
	if err != nil {
		t.Fatal(err)
	}
	cmd := exec.Command(self, "serve", "--data", dir, "--listen", "127.0.0.1:0", "--printer", "127.0.0.1:1")
	cmd.Env = append(os.Environ(), "BILDHAUER_AS_PROGRAM=1")
	return launched(t, cmd)
}

// launched starts the application and finds out where it listens.
func launched(t *testing.T, cmd *exec.Cmd) *program {
	t.Helper()
	p := &program{cmd: cmd}
	p.cmd.Stderr = io.Discard
	out, err := p.cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := p.cmd.Start(); err != nil {
		t.Fatal(err)
	}
	line, err := bufio.NewReader(out).ReadString('\n')
	_, rest, found := strings.Cut(line, "http://")
	if err != nil || !found {
		t.Fatalf("the program says %q, %v", line, err)
	}
	go io.Copy(io.Discard, out)
	p.address = "http://" + strings.Fields(rest)[0]
	return p
}

func (p *program) kill() {
	p.cmd.Process.Kill()
	p.cmd.Wait()
}

// person uses the application as a page does.
type person struct {
	http  *http.Client
	token string
	p     *program
}

func (p *program) person() (*person, error) {
	jar, _ := cookiejar.New(nil)
	u := &person{http: &http.Client{Jar: jar, Timeout: 20 * time.Second}, p: p}
	var r struct{ Token string }
	err := u.ask("GET", "/token", "", nil, &r)
	u.token = r.Token
	return u, err
}

// ask sends a request; anything but a good answer is an error.
func (u *person) ask(method, path, kind string, body io.Reader, into any) error {
	r, err := http.NewRequest(method, u.p.address+path, body)
	if err != nil {
		return err
	}
	r.Header.Set("X-Csrf-Token", u.token)
	r.Header.Set("Accept", "application/json")
	r.Header.Set("Content-Type", kind)
	res, err := u.http.Do(r)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	if err == nil && res.StatusCode != 200 {
		err = fmt.Errorf("%s %s: %d %s", method, path, res.StatusCode, data)
	}
	if err != nil || into == nil {
		return err
	}
	return json.Unmarshal(data, into)
}

func (u *person) upload(name, text string) (id string, err error) {
	var form bytes.Buffer
	mw := multipart.NewWriter(&form)
	part, _ := mw.CreateFormFile("file", name)
	io.WriteString(part, text)
	mw.Close()
	var r struct{ ID string }
	err = u.ask("POST", "/pieces", mw.FormDataContentType(), &form, &r)
	return r.ID, err
}

// fetch downloads a file to its end.
func (u *person) fetch(path string) ([]byte, error) {
	res, err := u.http.Get(u.p.address + path)
	if err != nil {
		return nil, err
	}
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	if err == nil && res.StatusCode != 200 {
		err = fmt.Errorf("%s: %d %s", path, res.StatusCode, data)
	}
	return data, err
}

// clip is an order of frames.
type clip struct {
	ID, State   string
	Done, Total int
}

func (u *person) clips(id string) (list []clip, err error) {
	var r struct{ Orders []clip }
	err = u.ask("GET", "/pieces/"+id+"/data/orders", "", nil, &r)
	return r.Orders, err
}

// framesOf checks that the files of a clip are whole pictures.
func framesOf(t *testing.T, dir string) (n int) {
	t.Helper()
	list, _ := filepath.Glob(filepath.Join(dir, "results", "*", "frame-*.png"))
	for _, path := range list {
		f, err := os.Open(path)
		if err != nil {
			t.Fatal(err)
		}
		if m, err := png.Decode(f); err != nil || m.Bounds().Dx() != 64 {
			t.Errorf("half a frame: %s, %v", path, err)
		}
		f.Close()
	}
	return len(list)
}

// TestKilledAtAnyMoment ends the program with kill -9 while people change pieces, bring new ones,
// have solids and files made and frames of a clip, and starts it again: what was confirmed is
// there, frames that were finished are not lost and none is half a picture, the clip goes on by
// itself, the database is sound, and nothing half written is left. BILDHAUER_KILLS says
// how often, usually 5 times.
func TestKilledAtAnyMoment(t *testing.T) {
	kills := 5
	fmt.Sscan(os.Getenv("BILDHAUER_KILLS"), &kills)
	dir := filepath.Join(t.TempDir(), "data")
	const doc = `<svg xmlns="http://www.w3.org/2000/svg" width="60" height="60"><rect width="40" height="40"/></svg>`
	p := launch(t, dir)
	defer func() { p.kill() }()
	u, err := p.person()
	if err != nil {
		t.Fatal(err)
	}
	id, err := u.upload("sign.svg", doc)
	if err != nil {
		t.Fatal(err)
	}
	if err := u.ask("POST", "/pieces/"+id+"/move", "application/json", strings.NewReader(`{"move":"turntable"}`), nil); err != nil {
		t.Fatal(err)
	}
	const frames = 100
	spec := fmt.Sprintf(`{"width":64,"height":48,"samples":2,"format":"png","raw":true,"clip":true,"from":0,"to":%d}`, frames-1)
	if err := u.ask("POST", "/pieces/"+id+"/orders", "application/json", strings.NewReader(spec), nil); err != nil {
		t.Fatal(err)
	}
	finished := 0
	for finished == 0 {
		list, err := u.clips(id)
		if err != nil || len(list) != 1 {
			t.Fatal(list, err)
		}
		finished = list[0].Done
	}
	width := 0.0                       // the last one that was confirmed
	known := map[string]bool{id: true} // pieces that were confirmed since the last kill, and some of before
	for k := range kills {
		var mu sync.Mutex
		var wg sync.WaitGroup
		wg.Go(func() { // a slider
			for n := 1; ; n++ {
				w := float64(10+k) + float64(n)/1000
				body := fmt.Sprintf(`{"label":"Width","edits":[{"kind":"size","by":"width","mm":%g}]}`, w)
				if u.ask("POST", "/pieces/"+id+"/change", "application/json", strings.NewReader(body), nil) != nil {
					return
				}
				mu.Lock()
				width = w
				mu.Unlock()
			}
		})
		wg.Go(func() { // new pieces
			for {
				made, err := u.upload("sign.svg", doc)
				if err != nil {
					return
				}
				mu.Lock()
				known[made] = true
				mu.Unlock()
			}
		})
		wg.Go(func() { // solids
			for u.ask("GET", "/pieces/"+id+"/data/checks", "", nil, nil) == nil {
			}
		})
		wg.Go(func() { // files
			for {
				data, err := u.fetch("/pieces/" + id + "/file/stl")
				if err != nil {
					return
				}
				if len(data) < 84 || len(data) != 84+50*int(binary.LittleEndian.Uint32(data[80:])) {
					t.Errorf("half a file: %d bytes", len(data))
				}
			}
		})
		time.Sleep(time.Duration(50+rand.IntN(350)) * time.Millisecond) // the moment is what is tried
		p.kill()
		wg.Wait()
		p = launch(t, dir)
		if u, err = p.person(); err != nil {
			t.Fatal(err)
		}
		var state struct {
			Size struct{ MM float64 }
		}
		if err := u.ask("GET", "/pieces/"+id+"/data/state", "", nil, &state); err != nil {
			t.Fatalf("kill %d: %v", k, err)
		}
		list, err := u.clips(id)
		if err != nil || len(list) != 1 || list[0].State == "failed" {
			t.Fatalf("kill %d: the clip is lost: %+v, %v", k, list, err)
		}
		if n := framesOf(t, dir); n < finished {
			t.Fatalf("kill %d: %d frames, there were %d", k, n, finished)
		} else {
			finished = n
		}
		// The change that was on its way may be there or not.
		if state.Size.MM < width-1e-9 || state.Size.MM > width+0.0011 {
			t.Fatalf("kill %d: the width is %g, confirmed was %g", k, state.Size.MM, width)
		}
		for made := range known {
			if err := u.ask("GET", "/pieces/"+made+"/data/state", "", nil, nil); err != nil {
				t.Fatalf("kill %d: a piece is lost: %v", k, err)
			}
			if len(known) > 5 {
				delete(known, made)
			}
		}
	}
	list, err := u.clips(id)
	if err != nil || len(list) != 1 {
		t.Fatal(list, err)
	}
	if err := u.ask("POST", "/pieces/"+id+"/orders/"+list[0].ID+"/stop", "application/json", strings.NewReader("{}"), nil); err != nil {
		t.Fatal(err)
	}
	for list[0].State == "waiting" || list[0].State == "running" {
		if list, err = u.clips(id); err != nil {
			t.Fatal(err)
		}
	}
	p.kill()
	s, err := store.Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	s.Close()
	filepath.WalkDir(dir, func(path string, d os.DirEntry, err error) error {
		if name := filepath.Base(path); err == nil && (strings.Contains(name, ".tmp") || strings.HasPrefix(name, ".")) {
			t.Errorf("left behind: %s", path)
		}
		return err
	})
}
