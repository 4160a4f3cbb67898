package web

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"time"
)

// tokens are what changes need against forged requests (CSRF). A token carries its own proof, so
// that nothing is kept for a visit: neither many visits nor long ones take memory. It is compared
// with the cookie of the browser by the middleware (signed double submit, OWASP).
type tokens struct{ key [32]byte }

func newTokens() *tokens {
	t := &tokens{}
	rand.Read(t.key[:])
	return t
}

const tokenRandom = 18 // bytes, which base64 writes without padding

func (t *tokens) proof(random []byte) []byte {
	m := hmac.New(sha256.New, t.key[:])
	m.Write(random)
	return m.Sum(nil)
}

// make returns a new token.
func (t *tokens) make() string {
	b := make([]byte, tokenRandom, tokenRandom+sha256.Size)
	rand.Read(b)
	return base64.RawURLEncoding.EncodeToString(append(b, t.proof(b)...))
}

// What follows is fiber.Storage, which is asked whether a token is known.

// GetWithContext returns something for a token that was made here, nil for any other.
func (t *tokens) GetWithContext(_ context.Context, token string) ([]byte, error) {
	raw, err := base64.RawURLEncoding.DecodeString(token)
	if err != nil || len(raw) != tokenRandom+sha256.Size || !hmac.Equal(raw[tokenRandom:], t.proof(raw[:tokenRandom])) {
		return nil, nil
	}
	return []byte{1}, nil
}

func (t *tokens) Get(token string) ([]byte, error) {
	return t.GetWithContext(context.Background(), token)
}

func (t *tokens) SetWithContext(context.Context, string, []byte, time.Duration) error { return nil }
func (t *tokens) Set(string, []byte, time.Duration) error                             { return nil }
func (t *tokens) DeleteWithContext(context.Context, string) error                     { return nil }
func (t *tokens) Delete(string) error                                                 { return nil }
func (t *tokens) ResetWithContext(context.Context) error                              { return nil }
func (t *tokens) Reset() error                                                        { return nil }
func (t *tokens) Close() error                                                        { return nil }
