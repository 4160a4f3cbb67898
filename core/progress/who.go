package progress

import "context"

type whoKey struct{}

// For returns a context of work that somebody asked for, by the address they ask from, say. Work
// that is shared out fairly goes by it.
func For(ctx context.Context, who string) context.Context {
	if who == "" {
		return ctx
	}
	return context.WithValue(ctx, whoKey{}, who)
}

// Who returns who asked, "" for nobody in particular.
func Who(ctx context.Context) string {
	who, _ := ctx.Value(whoKey{}).(string)
	return who
}
