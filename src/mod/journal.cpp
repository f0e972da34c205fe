#include "mod/journal.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <ctime>
#include <utility>

#include "base/files.h"
#include "base/phrase.h"
#include "base/sha256.h"
#include "base/text.h"

namespace rakugo::mod {
namespace fs = std::filesystem;
namespace {

using base::Json;

constexpr size_t kMarkDigits = 16;
constexpr uint64_t kMostBytes = 1ull << 30;

std::string now() {
  const std::time_t time = std::time(nullptr);
  std::tm parts{};
  gmtime_r(&time, &parts);
  char text[32];
  std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%SZ", &parts);
  return text;
}

std::string mark(std::string_view json) {
  return base::hex(base::sha256(base::asBytes(json))).substr(0, kMarkDigits);
}

std::string hexOf(base::ByteSpan bytes) {
  static constexpr char kDigits[] = "0123456789abcdef";
  std::string out;
  out.reserve(bytes.size() * 2);
  for (const std::byte b : bytes) {
    out += kDigits[std::to_integer<unsigned>(b) >> 4];
    out += kDigits[std::to_integer<unsigned>(b) & 15];
  }
  return out;
}

int digit(char c) { return c >= '0' && c <= '9' ? c - '0' : c >= 'a' && c <= 'f' ? c - 'a' + 10 : -1; }

std::shared_ptr<const base::Bytes> bytesOf(const std::string& hex) {
  if (hex.size() % 2 != 0) return nullptr;
  auto out = std::make_shared<base::Bytes>(hex.size() / 2);
  for (size_t i = 0; i < out->size(); ++i) {
    const int high = digit(hex[2 * i]), low = digit(hex[2 * i + 1]);
    if (high < 0 || low < 0) return nullptr;
    (*out)[i] = static_cast<std::byte>(high * 16 + low);
  }
  return out;
}

base::Error writeError(const fs::path& path) {
  return {"file.unwritable",
          base::phrase("The journal of unsaved edits cannot be written: {0}.", std::strerror(errno)),
          base::Place{path.string()},
          base::phrase("Save soon: until then a crash would lose the last edits.")};
}

JournalEdit editFrom(const Json& json) {
  JournalEdit out;
  out.label = base::textOf(json, "edit");
  out.at = base::textOf(json, "at");
  const Json* changes = base::memberOf(json, "documents");
  if (changes == nullptr || !changes->is_object()) return out;
  for (const auto& [path, content] : changes->items()) {
    if (documentPath(path).sort == DocumentSort::none) continue;
    std::shared_ptr<const base::Bytes> bytes;
    if (content.is_string()) {
      const auto& text = content.get_ref<const std::string&>();
      const base::ByteSpan span = base::asBytes(text);
      bytes = std::make_shared<const base::Bytes>(span.begin(), span.end());
    } else if (content.is_object() && content.contains("hex") && content["hex"].is_string()) {
      bytes = bytesOf(content["hex"].get<std::string>());
      if (!bytes) continue;
    } else if (!content.is_null()) {
      continue;
    }
    out.changes.emplace_back(path, std::move(bytes));
  }
  return out;
}

}  // namespace

fs::path journalPath(const fs::path& journals, const fs::path& folder) {
  std::error_code error;
  fs::path real = fs::weakly_canonical(folder, error);
  if (error) real = folder;
  return journals / (base::slug(real.filename().string()) + "-" + mark(real.string()) + ".journal");
}

Journal::Journal(Journal&& other) noexcept { *this = std::move(other); }

Journal& Journal::operator=(Journal&& other) noexcept {
  std::swap(path_, other.path_);
  std::swap(folder_, other.folder_);
  std::swap(descriptor_, other.descriptor_);
  std::swap(last_, other.last_);
  return *this;
}

Journal::~Journal() {
  if (descriptor_ >= 0) ::close(descriptor_);
}

base::Result<Journal> Journal::begin(const fs::path& path, const fs::path& folder, ModState saved,
                                     const Footprint& footprint) {
  RAKUGO_TRY(base::makeFolder(path.parent_path()));
  Journal out;
  out.path_ = path;
  std::error_code error;
  out.folder_ = fs::weakly_canonical(folder, error);
  out.descriptor_ = ::open(path.c_str(), O_RDWR | O_CREAT | O_APPEND | O_CLOEXEC, 0600);
  if (out.descriptor_ < 0) return writeError(path);
  if (::flock(out.descriptor_, LOCK_EX | LOCK_NB) != 0)
    return base::Error{"journal.in_use", base::phrase("Another Rakugo has this mod open."),
                       base::Place{folder.string()},
                       base::phrase("Close it there; edits made in both would fight over the same files.")};
  RAKUGO_TRY(out.restart(std::move(saved), footprint));
  return out;
}

base::Status Journal::append(const std::string& json) {
  if (descriptor_ < 0)
    return base::Error{"file.unwritable", base::phrase("The journal of unsaved edits is closed."),
                       base::Place{path_.string()},
                       base::phrase("Save soon: until then a crash would lose the last edits.")};
  const std::string line = mark(json) + " " + json + "\n";
  const off_t before = ::lseek(descriptor_, 0, SEEK_END);
  size_t at = 0;
  while (at < line.size()) {
    const ssize_t n = ::write(descriptor_, line.data() + at, line.size() - at);
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) {
      const base::Error error = writeError(path_);
      // A full disk may have taken half the line; what follows it would be lost with it.
      if (before >= 0 && ::ftruncate(descriptor_, before) != 0) ::close(std::exchange(descriptor_, -1));
      return error;
    }
    at += static_cast<size_t>(n);
  }
  return {};
}

base::Status Journal::writeHead(const Footprint& footprint) {
  Json files = Json::object();
  for (const auto& [path, sha] : footprint) files[path] = sha;
  RAKUGO_TRY(append(base::jsonLine(
      Json{{"format", 1}, {"mod", folder_.string()}, {"began", now()}, {"files", std::move(files)}})));
  if (::fsync(descriptor_) != 0) return writeError(path_);
  return {};
}

base::Status Journal::restart(ModState saved, const Footprint& footprint) {
  if (::ftruncate(descriptor_, 0) != 0) return writeError(path_);
  last_ = std::move(saved);
  return writeHead(footprint);
}

base::Status Journal::record(const std::string& label, const ModState& state, bool sync) {
  Json documents = Json::object();
  for (const std::string& path : changedPaths(last_, state)) {
    const auto content = documentContent(state, path);
    if (!content)
      documents[path] = nullptr;
    else if (documentPath(path).sort == DocumentSort::icon)
      documents[path] = Json{{"hex", hexOf(*content)}};
    else
      documents[path] = std::string(base::asText(*content));
  }
  if (documents.empty()) return {};
  RAKUGO_TRY(
      append(base::jsonLine(Json{{"edit", label}, {"at", now()}, {"documents", std::move(documents)}})));
  if (sync && ::fsync(descriptor_) != 0) return writeError(path_);
  last_ = state;
  return {};
}

void Journal::remove() {
  if (descriptor_ < 0) return;
  ::unlink(path_.c_str());
  ::close(descriptor_);
  descriptor_ = -1;
}

base::Result<JournalContent> parseJournal(base::ByteSpan bytes, const std::string& file) {
  const std::string_view all = base::asText(bytes);
  JournalContent out;
  bool head = true;
  size_t at = 0;
  while (at < all.size()) {
    const size_t end = all.find('\n', at);
    const std::string_view line = all.substr(at, end == std::string_view::npos ? end : end - at);
    const bool whole = end != std::string_view::npos && line.size() > kMarkDigits + 1 &&
                       line[kMarkDigits] == ' ' &&
                       mark(line.substr(kMarkDigits + 1)) == line.substr(0, kMarkDigits);
    const auto json = whole ? base::parseJson(line.substr(kMarkDigits + 1), file)
                            : base::Result<Json>(base::Error{"journal.damaged", "", {}, ""});
    if (!json || !json->is_object()) {
      // Lines are appended one after another: nothing after a damaged one can be trusted.
      out.cut_off = true;
      break;
    }
    if (head) {
      std::vector<base::Error> complaints;
      base::JsonFields in(*json, file, "", complaints);
      if (in.integer("format") != 1) break;
      out.folder = in.requiredText("mod");
      if (auto files = in.object("files"); files && files->json().is_object())
        for (const auto& [path, sha] : files->json().items())
          if (sha.is_string()) out.base[path] = sha.get<std::string>();
      if (!complaints.empty()) break;
      head = false;
    } else {
      out.edits.push_back(editFrom(*json));
    }
    at = end + 1;
  }
  if (head)
    return base::Error{"journal.damaged",
                       base::phrase("This is no journal of unsaved edits, or its beginning is damaged."),
                       base::Place{file}, base::phrase("It can be deleted; the mod itself is not touched.")};
  return out;
}

base::Result<JournalContent> readJournal(const fs::path& path) {
  RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(path, kMostBytes));
  return parseJournal(bytes, path.string());
}

bool journalInUse(const fs::path& path) {
  const int descriptor = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
  if (descriptor < 0) return false;
  const bool used = ::flock(descriptor, LOCK_EX | LOCK_NB) != 0;
  ::close(descriptor);
  return used;
}

std::vector<base::Error> recover(History& history, const JournalContent& journal) {
  std::vector<base::Error> refused;
  for (const JournalEdit& edit : journal.edits)
    history.edit(edit.label, [&](ModState& state) {
      for (const auto& [path, content] : edit.changes)
        if (const auto put = putDocument(state, path, content.get()); !put) refused.push_back(put.error());
    });
  return refused;
}

}  // namespace rakugo::mod
