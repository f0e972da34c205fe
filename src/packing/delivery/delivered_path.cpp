#include "packing/delivery/delivered_path.h"

#include <algorithm>
#include <array>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::packing {
namespace {

using base::phrase;

base::Error nameFault(std::string_view name, const std::string& why) {
  return base::Error{"path.name",
                     phrase("\"{0}\" is no name for a file: {1}.", base::presentable(name, 60), why),
                     {},
                     phrase("Let the rulebook make it of ids, or pass it through slug.")};
}

// Names of devices, which one system takes for those whatever ends them.
bool isDevice(const std::string& lower) {
  const std::string stem = lower.substr(0, lower.find('.'));
  static constexpr std::array<std::string_view, 4> kPlain = {"con", "prn", "aux", "nul"};
  if (std::find(kPlain.begin(), kPlain.end(), stem) != kPlain.end()) return true;
  return stem.size() == 4 && (stem.starts_with("com") || stem.starts_with("lpt")) && stem[3] >= '0' &&
         stem[3] <= '9';
}

// What a system or an interpreter would run or load as code.
bool isProgram(const std::string& lower) {
  static constexpr std::array<std::string_view, 31> kEndings = {
      ".exe", ".com", ".scr", ".bat", ".cmd", ".ps1",   ".vbs", ".vbe",     ".js", ".jse",  ".wsf",
      ".msi", ".dll", ".ocx", ".sys", ".so",  ".a",     ".o",   ".dylib",   ".sh", ".bash", ".py",
      ".pyc", ".pl",  ".rb",  ".lua", ".jar", ".class", ".app", ".desktop", ".lnk"};
  if (lower.find(".so.") != std::string::npos) return true;
  return std::any_of(kEndings.begin(), kEndings.end(),
                     [&](std::string_view ending) { return lower.ends_with(ending); });
}

base::Status goodName(const std::string& name, const PathRules& rules) {
  if (name.empty()) return nameFault(name, phrase("it is empty"));
  if (name == "." || name == "..") return nameFault(name, phrase("it is a folder by another name"));
  if (!base::isUtf8(name)) return nameFault(name, phrase("it is no text in UTF-8"));
  for (const char c : name) {
    const auto code = static_cast<unsigned char>(c);
    if (code < 0x20 || code == 0x7F) return nameFault(name, phrase("it has a control code"));
    if (std::string_view("<>:\"|?*\\").find(c) != std::string_view::npos ||
        rules.forbidden.find(c) != std::string::npos)
      return nameFault(name, phrase("it has a \"{0}\"", std::string(1, c)));
  }
  if (name.back() == '.' || name.back() == ' ')
    return nameFault(name, phrase("it ends with a dot or a space"));
  const std::string lower = base::lowerAscii(name);
  if (isDevice(lower)) return nameFault(name, phrase("some systems take it for a device"));
  if (isProgram(lower))
    return base::Error{"path.program",
                       phrase("\"{0}\" is a program or a library.", base::presentable(name, 60)),
                       {},
                       phrase("A delivery writes models, pictures, sounds and texts alone.")};
  return {};
}

}  // namespace

base::Result<std::string> deliveredPath(std::string_view pattern, const Scope& scope,
                                        const PathRules& rules) {
  RAKUGO_ASSIGN(const PlaceholderText parsed, parsePlaceholders(pattern));
  std::string path;
  for (const PlaceholderText::Piece& piece : parsed.pieces) {
    PlaceholderText one;
    one.pieces = {piece};
    RAKUGO_ASSIGN(const std::string filled, filledText(one, scope));
    if (!piece.name.empty() && filled.find_first_of("/\\") != std::string::npos)
      return base::Error{
          "path.value",
          phrase("{0} is \"{1}\", which is more than a name.", piece.name, base::presentable(filled, 60)),
          {},
          phrase("Pass it through slug.")};
    path += filled;
  }
  if (rules.letters == PathRules::Letters::lower) path = base::lowerAscii(path);
  if (rules.letters == PathRules::Letters::upper)
    std::transform(path.begin(), path.end(), path.begin(),
                   [](char c) { return c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c; });
  if (path.size() > rules.longest)
    return base::Error{"path.long",
                       phrase("The path {0} has {1} bytes; the game takes {2}.", base::presentable(path, 80),
                              path.size(), rules.longest),
                       {},
                       phrase("Give shorter names.")};
  for (size_t from = 0; from <= path.size();) {
    const size_t end = std::min(path.find('/', from), path.size());
    RAKUGO_TRY(goodName(path.substr(from, end - from), rules));
    from = end + 1;
  }
  return path;
}

base::Status DeliveredPaths::take(const std::string& path, const std::string& what) {
  const std::string lower = base::lowerAscii(path);
  if (const auto taken = files_.find(lower); taken != files_.end())
    return base::Error{
        "path.twice",
        taken->second.path == path
            ? phrase("{0} is written twice: for {1} and for {2}.", path, taken->second.what, what)
            : phrase("{0} for {1} and {2} for {3} differ by letter case alone.", taken->second.path,
                     taken->second.what, path, what),
        {path, {}},
        phrase("Let the rulebook put an id into the path.")};
  const auto inside = [&](const std::string& file, const Taken& of) {
    return base::Error{"path.inside",
                       phrase("{0} is a file for {1}, and a folder for another.", file, of.what),
                       {path, {}},
                       phrase("Give one of them another name.")};
  };
  if (const auto folder = folders_.find(lower); folder != folders_.end()) return inside(path, folder->second);
  for (size_t slash = lower.find('/'); slash != std::string::npos; slash = lower.find('/', slash + 1))
    if (const auto file = files_.find(lower.substr(0, slash)); file != files_.end())
      return inside(file->second.path, file->second);
  files_[lower] = {path, what};
  for (size_t slash = lower.find('/'); slash != std::string::npos; slash = lower.find('/', slash + 1))
    folders_.try_emplace(lower.substr(0, slash), Taken{path.substr(0, slash), what});
  return {};
}

}  // namespace rakugo::packing
