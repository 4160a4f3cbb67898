package main

import (
	"context"
	"fmt"
	"math"
	"strconv"
	"strings"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"

	"bildhauer/core/terms"
	"bildhauer/core/units"
)

// badUsage is wrong usage that is still to be told.
type badUsage struct{ text string }

func (b *badUsage) Error() string { return b.text }

// wrong returns wrong usage.
func wrong(format string, args ...any) error { return &badUsage{fmt.Sprintf(format, args...)} }

// started notes that a command has begun: what is wrong before that is its usage.
const started = "started"

func begun(_ context.Context, c *cobra.Command) bool { return c.Annotations[started] != "" }

// command makes a command; do is what it does once its arguments are right.
func command(use, short, long string, args cobra.PositionalArgs, do func(c *cobra.Command, args []string) error) *cobra.Command {
	c := &cobra.Command{
		Use: use, Short: short, Long: short + ".\n\n" + long, Args: args, DisableFlagsInUseLine: true,
		RunE: func(c *cobra.Command, args []string) error {
			c.Annotations = map[string]string{started: "yes"}
			return do(c, args)
		},
	}
	c.Flags().SortFlags = false
	c.Flags().BoolP("help", "h", false, "This text.")
	return c
}

func noFiles(c *cobra.Command, args []string) error {
	if len(args) > 0 {
		return fmt.Errorf("%s takes no file (%s)", c.Name(), args[0])
	}
	return nil
}

func someFiles(c *cobra.Command, args []string) error {
	if len(args) == 0 {
		return fmt.Errorf("%s: no file given", c.Name())
	}
	return nil
}

// oneOf refuses flags of which each says what the others say otherwise.
func oneOf(fs *pflag.FlagSet, groups ...string) error {
	for _, g := range groups {
		var set []string
		for _, name := range strings.Fields(g) {
			if f := fs.Lookup(name); f != nil && f.Changed {
				set = append(set, "--"+name)
			}
		}
		if len(set) > 1 {
			return wrong("%s contradict each other; give one of them", strings.Join(set, " and "))
		}
	}
	return nil
}

// value is a flag that reads a text by a function of its own.
type value struct {
	text  string
	kind  string // as help calls what it takes
	usual string
	set   func(text string) error
}

func (v *value) String() string { return v.text }
func (v *value) Type() string   { return v.kind }
func (v *value) Set(text string) error {
	if err := v.set(text); err != nil {
		return err
	}
	v.text = text
	return nil
}

// lengthOf adds the flag of a figure that is a length; set gets it in mm.
func lengthOf(fs *pflag.FlagSet, figure string, set func(mm float64)) {
	f := terms.Of(figure)
	fs.Var(&value{kind: "length", set: func(text string) error {
		mm, err := units.ParseLength(text, "mm")
		if err == nil {
			set(mm)
		}
		return err
	}}, f.Flag, helpOf(f))
}

// numberOf adds the flag of a figure that is a number.
func numberOf(fs *pflag.FlagSet, figure string, set func(v float64)) {
	f := terms.Of(figure)
	fs.Var(&value{kind: "number", set: func(text string) error {
		v, err := strconv.ParseFloat(text, 64)
		if err != nil || f.Whole && v != math.Trunc(v) {
			return fmt.Errorf("%s is a %s, not %.40q", strings.ToLower(f.What[:1])+f.What[1:], kindOf(f), text)
		}
		if err := f.Check(v); err != nil {
			return err
		}
		set(v)
		return nil
	}}, f.Flag, helpOf(f))
}

func kindOf(f terms.Figure) string {
	if f.Whole {
		return "whole number"
	}
	return "number"
}

// choiceFlag adds the flag of a choice; set gets what documents call the option.
func choiceFlag(c *cobra.Command, choice string, set func(name string)) {
	t := terms.Pick(choice)
	var options []string
	for _, o := range t.Options {
		if o.Said() != "" {
			options = append(options, o.Said())
		}
	}
	c.Flags().Var(&value{kind: "choice", set: func(text string) error {
		o, ok := t.Find(text)
		if !ok {
			return t.Refuse(text)
		}
		set(o.Name)
		return nil
	}}, t.Flag, t.Help+" One of: "+strings.Join(options, ", ")+".")
	_ = c.RegisterFlagCompletionFunc(t.Flag, cobra.FixedCompletions(options, cobra.ShellCompDirectiveNoFileComp))
}

// helpOf is the help of a figure's flag, with what is usual.
func helpOf(f terms.Figure) string {
	if f.Usual == 0 {
		return f.Help
	}
	return f.Help + " Usually " + f.Write(f.Usual) + "."
}

// round4 keeps what is worth reading of a length in mm.
func round4(v float64) float64 {
	if math.IsInf(v, 0) || math.IsNaN(v) {
		return 0
	}
	return units.Round(v, 4)
}
