package main

import (
	"crypto/tls"
	"errors"
	"fmt"
	"net"
	"os"
	"strconv"
	"strings"
	"syscall"

	"bildhauer/web"
)

// opening says where the application is reached, and by whom.
type opening struct {
	listen     string
	passphrase string // the file that holds it
	cert, key  string // files
	proxies    string // addresses of those in front that speak HTTPS
	hosts      []string
	asked      bool // for this address and no other

	access web.Access
}

// leastPassphrase is how many characters a passphrase has at the least.
const leastPassphrase = 12

// check reads the passphrase. Beyond this machine the application listens only with one, and
// only where nobody on the way can read it.
func (o *opening) check() error {
	local := web.LoopbackAddress(o.listen) == nil
	if o.passphrase == "" {
		switch {
		case !local:
			return errors.New("beyond this machine Bildhauer listens only with --passphrase-file FILE, " +
				"and --cert and --key or --behind-proxy; else it is for this machine only")
		case o.cert != "" || o.key != "" || o.proxies != "" || len(o.hosts) > 0:
			return errors.New("--cert, --key, --behind-proxy and --host go with --passphrase-file FILE")
		}
		return nil
	}
	data, err := os.ReadFile(o.passphrase)
	if err != nil {
		return fmt.Errorf("the passphrase can't be read: %w", err)
	}
	line, _, _ := strings.Cut(string(data), "\n")
	line = strings.TrimRight(line, "\r")
	if len([]rune(line)) < leastPassphrase {
		return fmt.Errorf("the passphrase in %s has fewer than %d characters. Take a longer one", o.passphrase, leastPassphrase)
	}
	if st, err := os.Stat(o.passphrase); err == nil && st.Mode().Perm()&0o077 != 0 {
		return fmt.Errorf("others may read %s; take that right away first (chmod 600)", o.passphrase)
	}
	if (o.cert == "") != (o.key == "") {
		return errors.New("--cert and --key go together")
	}
	if !local && o.cert == "" && o.proxies == "" {
		return errors.New("beyond this machine the passphrase needs HTTPS: give --cert and --key, or --behind-proxy ADDRESS if something in front speaks it")
	}
	if len(o.hosts) == 0 && (!local || o.proxies != "") {
		return errors.New("name the host under which people reach it: --host sign.example.org")
	}
	o.access = web.Access{Passphrase: line, Hosts: o.hosts, Secure: o.cert != "" || o.proxies != "", TLS: o.cert != ""}
	if o.proxies != "" {
		var bad string
		if o.access.Proxies, bad = web.ParseProxies(o.proxies); bad != "" {
			return fmt.Errorf("--behind-proxy names the addresses of what stands in front, such as 127.0.0.1 or 10.1.0.0/16; %q is none", bad)
		}
	}
	return nil
}

func (o *opening) scheme() string {
	if o.cert != "" {
		return "https"
	}
	return "http"
}

// portsTried is how many ports are tried when none was asked for.
const portsTried = 20

// socket begins to listen: at the address that was asked for, or else at the next free port.
func (o *opening) socket() (net.Listener, error) {
	ln, err := net.Listen("tcp", o.listen)
	host, port, _ := net.SplitHostPort(o.listen)
	for i := 1; errors.Is(err, syscall.EADDRINUSE) && !o.asked && i < portsTried; i++ {
		n, _ := strconv.Atoi(port)
		ln, err = net.Listen("tcp", net.JoinHostPort(host, strconv.Itoa(n+i)))
	}
	if errors.Is(err, syscall.EADDRINUSE) {
		return nil, fmt.Errorf("%s is in use by another program, perhaps by a Bildhauer that runs already. "+
			"End that one, or name another port: --listen %s", o.listen, net.JoinHostPort(host, "0"))
	}
	if err != nil {
		return nil, fmt.Errorf("can't listen on %s: %w", o.listen, err)
	}
	if o.cert == "" {
		return ln, nil
	}
	pair, err := tls.LoadX509KeyPair(o.cert, o.key)
	if err != nil {
		ln.Close()
		return nil, fmt.Errorf("the certificate can't be used: %w", err)
	}
	return tls.NewListener(ln, &tls.Config{Certificates: []tls.Certificate{pair}, MinVersion: tls.VersionTLS12}), nil
}
