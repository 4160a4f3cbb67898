package printer

import (
	"context"
	"encoding/json"
	"errors"
	"net"
	"net/http"
	"time"
)

// DefaultListen is where the stand-in is found.
const DefaultListen = "127.0.0.1:9147"

// Handler is the device's interface over HTTP, see docs/printer.md.
func (d *Device) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /status", func(w http.ResponseWriter, _ *http.Request) { tell(w, http.StatusOK, d.Status()) })
	mux.HandleFunc("PUT /jobs/{key}", d.put)
	mux.HandleFunc("GET /jobs/{key}", func(w http.ResponseWriter, r *http.Request) {
		j, ok := d.Job(r.PathValue("key"))
		if !ok {
			refuse(w, http.StatusNotFound, "there is no such job")
			return
		}
		tell(w, http.StatusOK, j)
	})
	for _, act := range []string{"pause", "resume", "cancel"} {
		mux.HandleFunc("POST /jobs/{key}/"+act, func(w http.ResponseWriter, r *http.Request) {
			j, err := d.Act(r.PathValue("key"), act)
			if err != nil {
				refuse(w, http.StatusNotFound, err.Error())
				return
			}
			tell(w, http.StatusOK, j)
		})
	}
	mux.HandleFunc("POST /troubles", func(w http.ResponseWriter, r *http.Request) {
		var t Trouble
		err := json.NewDecoder(http.MaxBytesReader(w, r.Body, 1<<16)).Decode(&t)
		if err == nil {
			err = d.Ask(t)
		}
		if err != nil {
			refuse(w, http.StatusUnprocessableEntity, err.Error())
			return
		}
		tell(w, http.StatusOK, t)
	})
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if d.Deaf() {
			panic(http.ErrAbortHandler) // the line is cut
		}
		mux.ServeHTTP(w, r)
	})
}

// put takes a job: the body is its print file.
func (d *Device) put(w http.ResponseWriter, r *http.Request) {
	key := r.PathValue("key")
	if boot := r.Header.Get("If-Match"); boot != "" && boot != d.Status().Boot {
		refuse(w, http.StatusPreconditionFailed, "the printer was switched off in between")
		return
	}
	if j, ok := d.Job(key); ok { // sent again
		tell(w, http.StatusOK, j)
		return
	}
	p, err := parse(http.MaxBytesReader(w, r.Body, MostBytes))
	if err != nil {
		refuse(w, http.StatusUnprocessableEntity, err.Error())
		return
	}
	j, err := d.take(key, p)
	var no *Refused
	switch {
	case errors.As(err, &no) && no.Busy:
		refuse(w, http.StatusConflict, no.Text)
	case err != nil:
		refuse(w, http.StatusUnprocessableEntity, err.Error())
	case d.Deaf():
		panic(http.ErrAbortHandler) // taken, but nobody hears it
	default:
		tell(w, http.StatusCreated, j)
	}
}

func tell(w http.ResponseWriter, code int, v any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(code)
	json.NewEncoder(w).Encode(v)
}

func refuse(w http.ResponseWriter, code int, text string) {
	tell(w, code, map[string]string{"error": text})
}

// tick is how often the device looks at the clock.
const tick = 20 * time.Millisecond

// Run lets the device work until ctx ends.
func (d *Device) Run(ctx context.Context) {
	clock := time.NewTicker(tick)
	defer clock.Stop()
	last := time.Now()
	for {
		select {
		case <-ctx.Done():
			return
		case now := <-clock.C:
			d.Pass(now.Sub(last))
			last = now
		}
	}
}

// Serve runs a device on a listener until ctx ends.
func Serve(ctx context.Context, ln net.Listener, d *Device) error {
	server := &http.Server{Handler: d.Handler(), ReadHeaderTimeout: 10 * time.Second}
	go d.Run(ctx)
	go func() {
		<-ctx.Done()
		server.Close()
	}()
	if err := server.Serve(ln); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}
