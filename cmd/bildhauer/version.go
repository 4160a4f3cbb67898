package main

import (
	"fmt"
	"os"
	"runtime"
	"runtime/debug"

	"github.com/spf13/cobra"
	"github.com/spf13/cobra/doc"
)

// versionCommand says which program this is.
func versionCommand() *cobra.Command {
	return command("version", "Prints the version of the program", "", noFiles, func(c *cobra.Command, _ []string) error {
		version, commit := "development", ""
		if info, ok := debug.ReadBuildInfo(); ok {
			for _, s := range info.Settings {
				if s.Key == "vcs.revision" {
					commit = ", commit " + s.Value[:min(12, len(s.Value))]
				}
			}
			if v := info.Main.Version; v != "" && v != "(devel)" {
				version = v
			}
		}
		fmt.Fprintf(c.OutOrStdout(), "bildhauer %s%s, %s/%s, %s\n", version, commit, runtime.GOOS, runtime.GOARCH, runtime.Version())
		return nil
	})
}

// manCommand writes the manual for those who ship the program.
func manCommand() *cobra.Command {
	c := command("man DIR", "Writes man pages into a folder", "", cobra.ExactArgs(1), func(c *cobra.Command, args []string) error {
		if err := os.MkdirAll(args[0], 0o755); err != nil {
			return err
		}
		return doc.GenManTree(c.Root(), &doc.GenManHeader{Title: "BILDHAUER", Section: "1"}, args[0])
	})
	c.Hidden = true
	return c
}
