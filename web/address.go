package web

import (
	"net/netip"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// address returns who asks: what throttling and allowances go by. Behind a proxy that is what the
// last of the proxies that are named saw: X-Forwarded-For is read from its end, for whatever stands
// before was written by somebody who is not trusted. Of an IPv6 address the network counts, which is
// what one household or machine has (RFC 6177).
func (h *server) address(c fiber.Ctx) string {
	peer, _ := netip.AddrFromSlice(c.RequestCtx().RemoteIP())
	if len(h.access.Proxies) == 0 {
		return of(peer.Unmap())
	}
	var says []string
	for _, line := range c.Request().Header.PeekAll(fiber.HeaderXForwardedFor) {
		says = append(says, string(line))
	}
	return of(forwarded(peer.Unmap(), says, h.access.Proxies))
}

// forwarded returns the address nearest to the program that is none of the proxies.
func forwarded(peer netip.Addr, headers []string, proxies []netip.Prefix) netip.Addr {
	trusted := func(a netip.Addr) bool {
		for _, p := range proxies {
			if p.Contains(a) {
				return true
			}
		}
		return false
	}
	hops := strings.Split(strings.Join(headers, ","), ",")
	for i := len(hops) - 1; i >= 0 && trusted(peer); i-- {
		next, err := hop(hops[i])
		if err != nil {
			break // the last proxy that spoke plainly stands for whoever is behind
		}
		peer = next
	}
	return peer
}

// hop reads an entry of X-Forwarded-For, which some write with a port.
func hop(s string) (netip.Addr, error) {
	s = strings.TrimSpace(s)
	if at, err := netip.ParseAddrPort(s); err == nil {
		return at.Addr().Unmap(), nil
	}
	a, err := netip.ParseAddr(strings.Trim(s, "[]"))
	return a.Unmap().WithZone(""), err
}

// network is how much of an IPv6 address tells people apart, in bits.
const network = 64

func of(a netip.Addr) string {
	if a.Is6() {
		if p, err := a.Prefix(network); err == nil {
			return p.String()
		}
	}
	return a.String()
}

// ParseProxies reads addresses and networks, such as "127.0.0.1, 10.1.0.0/16".
func ParseProxies(text string) (out []netip.Prefix, bad string) {
	for _, s := range strings.Split(text, ",") {
		s = strings.TrimSpace(s)
		if p, err := netip.ParsePrefix(s); err == nil {
			out = append(out, p.Masked())
		} else if a, err := netip.ParseAddr(s); err == nil {
			out = append(out, netip.PrefixFrom(a, a.BitLen()))
		} else {
			return nil, s
		}
	}
	return out, ""
}
