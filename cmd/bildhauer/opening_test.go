package main

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// certificate writes a certificate for this machine and its key.
func certificate(t *testing.T, dir string) (cert, key string) {
	t.Helper()
	k, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	c := x509.Certificate{SerialNumber: big.NewInt(1), Subject: pkix.Name{CommonName: "sign.example.org"}, DNSNames: []string{"localhost"},
		IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}, NotBefore: time.Now().Add(-time.Hour), NotAfter: time.Now().Add(time.Hour)}
	der, err := x509.CreateCertificate(rand.Reader, &c, &c, &k.PublicKey, k)
	if err != nil {
		t.Fatal(err)
	}
	raw, _ := x509.MarshalECPrivateKey(k)
	cert, key = filepath.Join(dir, "cert.pem"), filepath.Join(dir, "key.pem")
	os.WriteFile(cert, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), 0o600)
	os.WriteFile(key, pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: raw}), 0o600)
	return cert, key
}

// TestOpening says where the application is to be reached in every combination: beyond this
// machine only with a passphrase of some length that others can't read, and encrypted.
func TestOpening(t *testing.T) {
	dir := t.TempDir()
	file := func(name, text string, mode os.FileMode) string {
		path := filepath.Join(dir, name)
		os.WriteFile(path, []byte(text), mode)
		os.Chmod(path, mode)
		return path
	}
	good, short, seen := file("good", "gulls over the quay\n", 0o600), file("short", "gulls", 0o600), file("seen", "gulls over the quay", 0o644)
	cert, key := certificate(t, dir)
	hosts := []string{"sign.example.org"}
	here, all := "127.0.0.1:0", "0.0.0.0:0"
	for name, c := range map[string]struct {
		open opening
		want string // of the refusal; "" for none
	}{
		"here":                        {opening{listen: here}, ""},
		"here, with a passphrase":     {opening{listen: here, passphrase: good}, ""},
		"everywhere":                  {opening{listen: all}, "only with --passphrase-file"},
		"everywhere, plainly":         {opening{listen: all, passphrase: good, hosts: hosts}, "needs HTTPS"},
		"everywhere, encrypted":       {opening{listen: all, passphrase: good, hosts: hosts, cert: cert, key: key}, ""},
		"everywhere, behind a proxy":  {opening{listen: all, passphrase: good, hosts: hosts, proxies: "127.0.0.1"}, ""},
		"behind what is no address":   {opening{listen: all, passphrase: good, hosts: hosts, proxies: "10.0.0.0/8, here"}, `"here" is none`},
		"without a name":              {opening{listen: all, passphrase: good, proxies: "127.0.0.1"}, "name the host"},
		"a short one":                 {opening{listen: here, passphrase: short}, "fewer than 12 characters"},
		"one that others read":        {opening{listen: here, passphrase: seen}, "others may read"},
		"one that is not there":       {opening{listen: here, passphrase: dir + "/none"}, "can't be read"},
		"a certificate without a key": {opening{listen: here, passphrase: good, cert: cert}, "go together"},
		"a name without a passphrase": {opening{listen: here, hosts: hosts}, "go with --passphrase-file"},
	} {
		err := c.open.check()
		if c.want == "" && err != nil || c.want != "" && (err == nil || !strings.Contains(err.Error(), c.want)) {
			t.Errorf("%s: %v, want %q", name, err, c.want)
		}
	}
	o := opening{listen: here, passphrase: good, cert: cert, key: key}
	if err := o.check(); err != nil || !o.access.Secure || o.scheme() != "https" {
		t.Fatalf("%v, %+v", err, o.access)
	}
	ln, err := o.socket()
	if err != nil {
		t.Fatal(err)
	}
	defer ln.Close()
	go func() {
		if c, err := ln.Accept(); err == nil {
			c.Write([]byte("hello"))
			c.Close()
		}
	}()
	pool := x509.NewCertPool()
	data, _ := os.ReadFile(cert)
	pool.AppendCertsFromPEM(data)
	c, err := tls.Dial("tcp", ln.Addr().String(), &tls.Config{RootCAs: pool})
	if err != nil || c.ConnectionState().Version < tls.VersionTLS12 {
		t.Fatalf("by TLS: %v", err)
	}
	c.Close()
	o.key = good
	if _, err := o.socket(); err == nil || !strings.Contains(err.Error(), "certificate can't be used") {
		t.Errorf("a key that is none: %v", err)
	}
}
