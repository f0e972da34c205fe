// `rakugo-tool manual`: the manual page and the completion, made of the commands there are.
#include <functional>

#include "tool/command_list.h"

namespace rakugo::tool {
namespace {

// Text as roff takes it: a hyphen is a minus sign there, and a line may not begin with a dot or a quote.
std::string roff(const std::string& text) {
  std::string out;
  for (const char c : text) {
    if (c == '-')
      out += "\\-";
    else if (c == '\\')
      out += "\\e";
    else
      out += c;
  }
  if (!out.empty() && (out[0] == '.' || out[0] == '\'')) out.insert(0, "\\&");
  return out;
}

std::vector<const CLI::Option*> optionsOf(const CLI::App& app, bool positional) {
  std::vector<const CLI::Option*> out;
  for (const CLI::Option* option : app.get_options())
    if (option->get_positional() == positional && !option->get_group().empty()) out.push_back(option);
  return out;
}

std::string synopsis(const CLI::App& app, const std::string& name) {
  std::string out = "\\fB" + roff(name) + "\\fR";
  for (const CLI::Option* option : optionsOf(app, false)) {
    if (option->get_name() == "--help") continue;
    out += " [\\fB" + roff(option->get_name()) + "\\fR";
    if (option->get_items_expected_max() > 0) out += " \\fIVALUE\\fR";
    out += "]";
  }
  for (const CLI::Option* option : optionsOf(app, true)) out += " \\fI" + roff(option->get_name()) + "\\fR";
  return out;
}

void eachCommand(const CLI::App& app, const std::string& before,
                 const std::function<void(const CLI::App&, const std::string&)>& visit) {
  for (const CLI::App* sub : app.get_subcommands(nullptr)) {
    const std::string name = before + sub->get_name();
    if (sub->get_subcommands(nullptr).empty())
      visit(*sub, name);
    else
      eachCommand(*sub, name + " ", visit);
  }
}

std::string manualPage(const CLI::App& app) {
  std::string out = ".TH RAKUGO\\-TOOL 1 \"\" \"Rakugo " RAKUGO_VERSION "\" \"User Commands\"\n";
  out += ".SH NAME\nrakugo\\-tool \\- prepare, check and build game mods without a window\n";
  out += ".SH SYNOPSIS\n\\fBrakugo\\-tool\\fR \\fICOMMAND\\fR [\\fIOPTIONS\\fR] [\\fIARGUMENTS\\fR]\n";
  out += ".SH DESCRIPTION\n" + roff(app.get_description()) + "\n";
  out += ".SH COMMANDS\n";
  eachCommand(app, "", [&](const CLI::App& sub, const std::string& name) {
    out += ".TP\n" + synopsis(sub, name) + "\n" + roff(sub.get_description()) + ".\n";
    for (const CLI::Option* option : optionsOf(sub, false)) {
      if (option->get_name() == "--help") continue;
      out += ".RS\n.TP\n\\fB" + roff(option->get_name(false, true)) + "\\fR\n" +
             roff(option->get_description()) + "\n.RE\n";
    }
  });
  out +=
      ".SH EXIT STATUS\n"
      ".TP\n0\nDone; for \\fBcheck\\fR: nothing stops the game.\n"
      ".TP\n1\nFindings stop the game, a package is damaged, two things differ.\n"
      ".TP\n2\nThe arguments or a file could not be used; the message says why.\n"
      ".TP\n3\nA fault of the program itself.\n";
  out +=
      ".SH ENVIRONMENT\n.TP\n\\fBRAKUGO_RULEBOOKS\\fR\nFolders with rulebooks, colons between them; looked "
      "at before those that are installed.\n";
  out += ".SH SEE ALSO\n\\fBrakugo\\fR(1)\n";
  return out;
}

std::string bashCompletion(const CLI::App& app) {
  std::string names, cases;
  for (const CLI::App* sub : app.get_subcommands(nullptr))
    names += (names.empty() ? "" : " ") + sub->get_name();
  eachCommand(app, "", [&](const CLI::App& sub, const std::string& name) {
    std::string words;
    for (const CLI::Option* option : optionsOf(sub, false))
      for (const std::string& l : option->get_lnames()) words += (words.empty() ? "--" : " --") + l;
    cases += "    \"" + name + "\") words=\"" + words + "\" ;;\n";
  });
  for (const CLI::App* sub : app.get_subcommands(nullptr)) {
    std::string inner;
    for (const CLI::App* one : sub->get_subcommands(nullptr))
      inner += (inner.empty() ? "" : " ") + one->get_name();
    if (!inner.empty()) cases += "    \"" + sub->get_name() + "\") words=\"" + inner + "\" ;;\n";
  }
  return "# Completion of rakugo-tool for bash; made by \"rakugo-tool manual --bash\".\n"
         "_rakugo_tool() {\n"
         "  local word=\"${COMP_WORDS[COMP_CWORD]}\" command=\"\" words=\"\" i\n"
         "  for ((i = 1; i < COMP_CWORD; i++)); do\n"
         "    case \"${COMP_WORDS[i]}\" in -*) ;; *) command=\"${command:+$command }${COMP_WORDS[i]}\" ;; "
         "esac\n"
         "  done\n"
         "  # Of what was typed, the longest beginning that is a command counts.\n"
         "  while :; do\n"
         "    case \"$command\" in\n"
         "    \"\") words=\"" +
         names + " --help --version\" ;;\n" + cases +
         "    *) command=\"${command% *}\"; continue ;;\n"
         "    esac\n"
         "    break\n"
         "  done\n"
         "  if [[ \"$word\" == -* || -z \"$command\" || \"$words\" != --* ]]; then\n"
         "    COMPREPLY=($(compgen -W \"$words\" -- \"$word\"))\n"
         "  else\n"
         "    COMPREPLY=($(compgen -f -- \"$word\"))\n"
         "  fi\n"
         "}\n"
         "complete -o filenames -F _rakugo_tool rakugo-tool\n";
}

struct ManualOptions {
  bool bash = false;
};

}  // namespace

void addManualCommands(Tool& tool) {
  const auto o = std::make_shared<ManualOptions>();
  CLI::App* sub = tool.app().add_subcommand("manual", "Print the manual page, or completion for a shell");
  sub->add_flag("--bash", o->bash, "Completion for bash");
  tool.runs(sub, [o, &tool](const Common&) {
    say("{}", o->bash ? bashCompletion(tool.app()) : manualPage(tool.app()));
    return kGood;
  });
}

}  // namespace rakugo::tool
