package main

import (
	"bufio"
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"image/png"
	"io"
	"math"
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

	"github.com/jmoiron/sqlx"

	"bildhauer/core/recipe"
	"bildhauer/store"
)

// program is the application in a process of its own.
type program struct {
	cmd     *exec.Cmd
	address string
}

func launch(t *testing.T, dir string) *program {
	t.Helper()
	return launched(t, serving(t, dir))
}

// start starts the application and does not wait until it listens.
func start(t *testing.T, dir string) *program {
	t.Helper()
	cmd := serving(t, dir)
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	return &program{cmd: cmd}
}

func serving(t *testing.T, dir string) *exec.Cmd {
	t.Helper()
	self, err := os.Executable()
	if err != nil {
		t.Fatal(err)
	}
	cmd := exec.Command(self, "serve", "--data", dir, "--listen", "127.0.0.1:0", "--printer", "127.0.0.1:1")
	cmd.Env = append(os.Environ(), "BILDHAUER_AS_PROGRAM=1")
	return cmd
}

// exchange puts a changed file in the place of the first sheet of a piece.
func (u *person) exchange(id, text string) error {
	kind, form := formOf("sign.svg", text)
	var x struct{ File string }
	if err := u.ask("POST", "/pieces/"+id+"/sheets/1/propose", kind, form, &x); err != nil {
		return err
	}
	return u.ask("POST", "/pieces/"+id+"/sheets/1/accept", "application/json", strings.NewReader(`{"file":"`+x.File+`"}`), nil)
}

func openDatabase(t *testing.T, dir string) *sqlx.DB {
	t.Helper()
	db, err := sqlx.Open("sqlite", "file:"+filepath.Join(dir, "bildhauer.db")+"?_pragma=busy_timeout(5000)")
	if err != nil {
		t.Fatal(err)
	}
	return db
}

// allNamed looks into the database of a program that was killed, by itself: every piece has the state
// that is in force, and every file that a state, a version or an order names is there. It returns how
// many that are.
func allNamed(t *testing.T, dir string) int {
	t.Helper()
	db := openDatabase(t, dir)
	defer db.Close()
	var headless int
	if err := db.Get(&headless, `SELECT COUNT(*) FROM pieces WHERE NOT EXISTS (SELECT 1 FROM states WHERE piece_id = pieces.id AND rev = head)`); err != nil || headless > 0 {
		t.Fatalf("%d pieces have no state, %v", headless, err)
	}
	var docs []struct {
		PieceID string `db:"piece_id"`
		Doc     []byte `db:"doc"`
	}
	err := db.Select(&docs, `SELECT piece_id, doc FROM states UNION ALL SELECT piece_id, doc FROM versions UNION ALL SELECT piece_id, doc FROM orders`)
	if err != nil {
		t.Fatal(err)
	}
	named := 0
	for _, d := range docs {
		r, err := recipe.Open(d.Doc)
		if err != nil {
			t.Fatal(err)
		}
		for _, s := range r.Sheets.All() {
			var there int
			err := db.Get(&there, `SELECT COUNT(*) FROM files WHERE piece_id = ? AND id = ? AND length(data) > 90`, d.PieceID, s.File)
			if err != nil || there != 1 {
				t.Fatalf("the file %s of the piece %s is lost, %v", s.File, d.PieceID, err)
			}
			named++
		}
	}
	return named
}

// aged makes all that waits to be removed old enough for it.
func aged(t *testing.T, dir string) {
	t.Helper()
	db := openDatabase(t, dir)
	defer db.Close()
	for _, q := range []string{
		`UPDATE files SET created_at = created_at - 200000000`, `UPDATE pieces SET deleted_at = 1 WHERE deleted_at IS NOT NULL`,
		`UPDATE versions SET deleted_at = 1 WHERE deleted_at IS NOT NULL`,
	} {
		if _, err := db.Exec(q); err != nil {
			t.Fatal(err)
		}
	}
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
	u := &person{http: &http.Client{Jar: jar, Timeout: 10 * time.Minute}, p: p}
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
	kind, form := formOf(name, text)
	var r struct{ ID string }
	err = u.ask("POST", "/pieces", kind, form, &r)
	return r.ID, err
}

func formOf(name, text string) (kind string, form *bytes.Buffer) {
	form = &bytes.Buffer{}
	mw := multipart.NewWriter(form)
	part, _ := mw.CreateFormFile("file", name)
	io.WriteString(part, text)
	mw.Close()
	return mw.FormDataContentType(), form
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
// have solids and files made and frames of a clip, keep and drop versions, exchange files and take pieces out and in, and starts it again: what was confirmed is
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
	named := 0                         // files that something names, over all looks
	sent := 0.0                        // the last width that was asked for
	width := 0.0                       // the last one that was confirmed
	known := map[string]bool{id: true} // pieces that were confirmed since the last kill, and some of before
	for k := range kills {
		var mu sync.Mutex
		var wg sync.WaitGroup
		wg.Go(func() { // a slider
			for n := 1; ; n++ {
				w := float64(10+k) + float64(n)/1000
				mu.Lock()
				sent = w
				mu.Unlock()
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
		wg.Go(func() { // versions that come and go
			for n := 0; ; n++ {
				var r struct{ Versions []struct{ ID string } }
				body := fmt.Sprintf(`{"name":"%d of round %d"}`, n, k)
				if u.ask("POST", "/pieces/"+id+"/versions", "application/json", strings.NewReader(body), &r) != nil {
					return
				}
				for len(r.Versions) > 3 {
					oldest := r.Versions[len(r.Versions)-1].ID
					if u.ask("POST", "/pieces/"+id+"/versions/"+oldest+"/drop", "application/json", nil, &r) != nil {
						return
					}
				}
			}
		})
		wg.Go(func() { // changed files, and the piece as a file, out and in, and deleted
			for n := 0; ; n++ {
				if u.exchange(id, strings.Replace(doc, "40", fmt.Sprint(20+(k+n)%30), 1)) != nil {
					return
				}
				data, err := u.fetch("/pieces/" + id + "/piece.zip")
				if err != nil {
					return
				}
				made, err := u.upload("sign.zip", string(data))
				if err != nil {
					return
				}
				if n%2 > 0 && u.ask("POST", "/pieces/"+made+"/delete", "application/json", nil, nil) != nil {
					return
				}
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
		named += allNamed(t, dir)
		if k%2 == 0 { // killed while it begins, too: it removes what has waited long enough
			aged(t, dir)
			early := start(t, dir)
			time.Sleep(time.Duration(rand.IntN(120)) * time.Millisecond)
			early.kill()
			named += allNamed(t, dir)
		}
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
		if mm := state.Size.MM; math.Abs(mm-width) > 1e-9 && math.Abs(mm-sent) > 1e-9 {
			t.Fatalf("kill %d: the width is %g, confirmed was %g", k, state.Size.MM, width)
		}
		width, sent = state.Size.MM, state.Size.MM // what holds from here
		for made := range known {
			if err := u.ask("GET", "/pieces/"+made+"/data/state", "", nil, nil); err != nil {
				t.Fatalf("kill %d: a piece is lost: %v", k, err)
			}
			if len(known) > 5 {
				delete(known, made)
			}
		}
	}
	if named < 10*kills {
		t.Errorf("only %d files were named in %d rounds", named, kills)
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
