// The tool's manual page and completion, made from its own table of commands so that they cannot differ.
#pragma once

#include <CLI/CLI.hpp>
#include <string>

namespace rakugo::tool {

/// A page for man(1): every command with its arguments, the exit codes, the files.
std::string manualPage(const CLI::App& app);
/// A completion script for bash: commands, their options, and files where an argument is one.
std::string bashCompletion(const CLI::App& app);

}  // namespace rakugo::tool
