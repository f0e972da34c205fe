#include "prepare/newer/picture_search.h"

#include <algorithm>
#include <set>

#include "base/files.h"
#include "base/phrase.h"
#include "base/text.h"
#include "formats/archives/archive.h"

namespace rakugo::prepare {
namespace fs = std::filesystem;
namespace {

constexpr int kSearchDepth = 3;
constexpr size_t kMostSearched = 5000, kMostFound = 8;

// The last name of a path of any system: models carry paths of the machine they were made on.
std::string leafOf(const std::string& path) {
  const size_t slash = path.find_last_of("/\\");
  return path.substr(slash == std::string::npos ? 0 : slash + 1);
}

std::string stemOf(const std::string& leaf) { return leaf.substr(0, leaf.rfind('.')); }

// Letters and digits alone: "Oak_Diffuse 2" and "oak-diffuse2" are one.
std::string bare(const std::string& text) {
  std::string out;
  for (const char c : base::lowerAscii(text))
    if ((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || static_cast<unsigned char>(c) >= 0x80) out += c;
  return out;
}

void lookInFolder(const fs::path& folder, const std::string& wanted, const fs::path& base, size_t& seen,
                  std::set<fs::path>& known, std::vector<FoundPicture>& out, const base::Progress* progress) {
  std::error_code error;
  for (auto at =
           fs::recursive_directory_iterator(folder, fs::directory_options::skip_permission_denied, error);
       !error && at != fs::recursive_directory_iterator(); at.increment(error)) {
    if (++seen > kMostSearched || (progress != nullptr && progress->cancelled())) return;
    if (at.depth() + 1 >= kSearchDepth) at.disable_recursion_pending();
    std::error_code own;
    if (!fs::is_regular_file(at->symlink_status(own))) continue;
    const auto likeness = likenessOf(at->path().filename().string(), wanted);
    if (likeness && known.insert(at->path()).second)
      out.push_back({{at->path(), {}}, *likeness, fs::relative(at->path(), base, own).generic_string()});
  }
}

}  // namespace

std::optional<Likeness> likenessOf(const std::string& file, const std::string& wanted) {
  if (sourceSortOf(file) != SourceSort::picture) return std::nullopt;
  const std::string a = leafOf(file), b = leafOf(wanted);
  if (a == b) return Likeness::same_name;
  const std::string low_a = base::lowerAscii(a), low_b = base::lowerAscii(b);
  if (low_a == low_b) return Likeness::letter_case;
  if (stemOf(low_a) == stemOf(low_b)) return Likeness::other_ending;
  const std::string bare_a = bare(stemOf(a)), bare_b = bare(stemOf(b));
  if (bare_a.size() < 3 || bare_b.size() < 3) return std::nullopt;
  if (bare_a == bare_b || bare_a.find(bare_b) != std::string::npos ||
      bare_b.find(bare_a) != std::string::npos)
    return Likeness::alike;
  return std::nullopt;
}

std::vector<FoundPicture> findPictures(const std::string& wanted, const mod::Origin& origin,
                                       const base::Progress* progress) {
  std::vector<FoundPicture> out;
  if (leafOf(wanted).empty()) return out;
  if (!origin.inside.empty())
    if (const auto bytes = base::readFile(origin.file); bytes && formats::isArchive(*bytes))
      if (const auto files = formats::readArchive(*bytes, origin.file.filename().string()))
        for (const auto& [path, content] : *files)
          if (const auto likeness = likenessOf(path, wanted)) {
            const Given from{origin.file, path};
            out.push_back({from, *likeness, from.shown()});
          }
  const fs::path folder = origin.file.parent_path();
  size_t seen = 0;
  std::set<fs::path> known;
  lookInFolder(folder, wanted, folder, seen, known, out, progress);
  // Beside it: a download often has its models in one folder and its pictures in another.
  std::error_code error;
  if (folder.has_parent_path() && folder != folder.root_path())
    for (fs::directory_iterator
             at(folder.parent_path(), fs::directory_options::skip_permission_denied, error),
         end;
         !error && at != end; at.increment(error)) {
      std::error_code own;
      if (++seen > kMostSearched) break;
      if (at->path() != folder && fs::is_directory(at->symlink_status(own)))
        lookInFolder(at->path(), wanted, folder, seen, known, out, progress);
    }
  std::stable_sort(out.begin(), out.end(), [](const FoundPicture& a, const FoundPicture& b) {
    return a.likeness != b.likeness ? a.likeness < b.likeness : a.shown.size() < b.shown.size();
  });
  if (out.size() > kMostFound) out.resize(kMostFound);
  return out;
}

base::Result<base::Bytes> readGiven(const Given& given) {
  RAKUGO_ASSIGN(base::Bytes bytes, base::readFile(given.file));
  if (given.inside.empty()) return bytes;
  RAKUGO_ASSIGN(auto files, formats::readArchive(bytes, given.file.filename().string()));
  const auto found = files.find(given.inside);
  if (found == files.end())
    return base::Error{"file.missing", base::phrase("The archive does not hold this file any more."),
                       base::Place{given.inside}, base::phrase("Look for it anew.")};
  return std::move(found->second);
}

}  // namespace rakugo::prepare
