#include "mod/origins.h"

#include "base/files.h"
#include "base/json.h"

namespace rakugo::mod {
namespace fs = std::filesystem;
namespace {

using base::Json;

fs::path pathOf(const fs::path& mod_folder) { return mod_folder / "build" / "origins.json"; }

using base::textOf;

base::Status write(const fs::path& mod_folder, const Origins& origins) {
  Json sources = Json::object(), made = Json::array();
  for (const auto& [name, one] : origins.sources) {
    sources[name] = Json{{"file", one.file.string()}, {"digest", one.digest}};
    if (!one.inside.empty()) sources[name]["inside"] = one.inside;
    if (!one.stamp.empty()) sources[name]["stamp"] = one.stamp;
  }
  for (const std::string& path : origins.made) made.push_back(path);
  RAKUGO_TRY(base::makeFolder(pathOf(mod_folder).parent_path()));
  return base::writeFileAtomic(
      pathOf(mod_folder), base::jsonText(Json{{"sources", std::move(sources)}, {"made", std::move(made)}}));
}

}  // namespace

Origins loadOrigins(const fs::path& mod_folder) {
  const auto bytes = base::readFile(pathOf(mod_folder), base::Limits{}.json_bytes);
  return bytes ? parseOrigins(base::asText(*bytes)) : Origins();
}

Origins parseOrigins(std::string_view text) {
  Origins out;
  const auto json = base::parseJson(text, "origins.json");
  if (!json || !json->is_object()) return out;
  if (const auto sources = json->find("sources"); sources != json->end() && sources->is_object())
    for (const auto& [name, one] : sources->items()) {
      if (!one.is_object()) continue;
      const Origin origin{textOf(one, "file"), textOf(one, "inside"), textOf(one, "digest"),
                          textOf(one, "stamp")};
      if (!origin.file.empty()) out.sources[name] = origin;
    }
  if (const auto made = json->find("made"); made != json->end() && made->is_array())
    for (const Json& path : *made)
      // Only what a source's copy can be is ever moved, whatever the file says.
      if (path.is_string() && base::isInnerPath(path.get<std::string>()) &&
          path.get<std::string>().rfind("sources/", 0) == 0)
        out.made.insert(path.get<std::string>());
  return out;
}

base::Status rememberOrigin(const fs::path& mod_folder, const std::string& source, const Origin& origin) {
  Origins all = loadOrigins(mod_folder);
  all.sources[source] = origin;
  return write(mod_folder, all);
}

base::Status moveOrigin(const fs::path& mod_folder, const std::string& from, const std::string& to) {
  Origins all = loadOrigins(mod_folder);
  const auto known = all.sources.find(from);
  if (known != all.sources.end()) {
    if (!to.empty()) all.sources[to] = known->second;
    all.sources.erase(from);
  }
  const std::string folder = "sources/" + from + "/";
  std::set<std::string> made;
  for (const std::string& path : all.made)
    if (!path.starts_with(folder))
      made.insert(path);
    else if (!to.empty())
      made.insert("sources/" + to + "/" + path.substr(folder.size()));
  all.made = std::move(made);
  return write(mod_folder, all);
}

base::Status rememberMade(const fs::path& mod_folder, const std::vector<std::string>& files) {
  Origins all = loadOrigins(mod_folder);
  all.made.insert(files.begin(), files.end());
  return write(mod_folder, all);
}

std::set<std::string> leftOver(const Origins& origins, const ModState& state) {
  std::set<std::string> out = origins.made;
  const auto use = [&](const std::string& source, const std::vector<SourceFile>& files) {
    for (const SourceFile& f : files) out.erase("sources/" + source + "/" + f.path);
  };
  for (const auto& [name, doc] : state.sources) {
    use(name, doc.files);
    for (const SourceVersion& version : doc.older) use(name, version.files);
  }
  return out;
}

std::vector<std::string> clearLeftOver(const fs::path& mod_folder, const ModState& state) {
  Origins all = loadOrigins(mod_folder);
  std::vector<std::string> moved;
  for (const std::string& path : leftOver(all, state)) {
    all.made.erase(path);
    const fs::path to = mod_folder / "build" / "left-over" / path;
    std::error_code error;
    if (!fs::is_regular_file(fs::symlink_status(mod_folder / path, error)) || fs::exists(to, error)) continue;
    if (!base::makeFolder(to.parent_path())) continue;
    fs::rename(mod_folder / path, to, error);
    if (error) continue;
    moved.push_back(path);
    // Empty folders would be taken for sources without a record.
    for (fs::path up = (mod_folder / path).parent_path(); up.filename() != "sources"; up = up.parent_path())
      if (!fs::is_empty(up, error) || !fs::remove(up, error)) break;
  }
  for (auto one = all.sources.begin(); one != all.sources.end();)
    one = state.sources.count(one->first) == 0 ? all.sources.erase(one) : std::next(one);
  (void)write(mod_folder, all);  // a record that cannot be written is made anew the next time
  return moved;
}

}  // namespace rakugo::mod
