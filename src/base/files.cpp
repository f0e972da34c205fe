#include "base/files.h"
#include "base/phrase.h"

#include <fcntl.h>
#include <signal.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>

namespace rakugo::base {
namespace fs = std::filesystem;
namespace {

Error fileError(const char* code, const std::string& what, const fs::path& path,
                const std::string& cure = {}) {
  return Error{code, what, Place{path.string()}, cure};
}

std::string reason(int number) { return std::strerror(number); }

// A refused write, with the cure that fits its reason.
Error writeError(const std::string& what, int number, const fs::path& path) {
  std::string cure = phrase("What was there before is untouched.");
  if (number == ENOSPC || number == EDQUOT)
    cure = phrase("Make room on the disk and try again; what was there before is untouched.");
  else if (number == EACCES || number == EPERM || number == EROFS)
    cure = phrase(
        "Give yourself the right to write there, or use another folder; what was there before is untouched.");
  return fileError("file.unwritable", what + ": " + reason(number) + ".", path, cure);
}

constexpr std::string_view kTemporaryMark = ".tmp-";

// A descriptor that closes itself.
class Descriptor {
 public:
  explicit Descriptor(int number) : number_(number) {}
  Descriptor(const Descriptor&) = delete;
  Descriptor& operator=(const Descriptor&) = delete;
  ~Descriptor() {
    if (number_ >= 0) ::close(number_);
  }
  [[nodiscard]] int number() const { return number_; }

 private:
  int number_;
};

Result<uint64_t> openedSize(int descriptor, const fs::path& path, uint64_t most_bytes) {
  struct stat info {};
  if (::fstat(descriptor, &info) != 0)
    return fileError("file.unreadable", phrase("The file cannot be examined: {0}", reason(errno)), path);
  if (!S_ISREG(info.st_mode))
    return fileError("file.unreadable", phrase("This is not a regular file."), path);
  const auto size = static_cast<uint64_t>(info.st_size);
  if (size > most_bytes)
    return fileError("file.too_large", phrase("The file is larger than Rakugo reads ({0} bytes).", size),
                     path);
  return size;
}

Error openError(int number, const fs::path& path) {
  if (number == ENOENT || number == ENOTDIR)
    return fileError("file.missing", phrase("There is no such file."), path,
                     phrase("Check the path and its spelling."));
  return fileError("file.unreadable", phrase("The file cannot be opened: {0}", reason(number)), path);
}

Status syncFolder(const fs::path& folder) {
  const Descriptor d(::open(folder.empty() ? "." : folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
  if (d.number() < 0 || ::fsync(d.number()) != 0)
    return fileError("file.unwritable", phrase("The folder cannot be synced: {0}", reason(errno)), folder);
  return {};
}

// The process number at the end of a temporary file's name; 0 when the name is none.
pid_t temporaryOwner(std::string_view name) {
  const size_t at = name.rfind(kTemporaryMark);
  if (at == std::string_view::npos || at == 0) return 0;
  const std::string_view digits = name.substr(at + kTemporaryMark.size());
  if (digits.empty() || digits.size() > 9) return 0;
  pid_t out = 0;
  for (const char c : digits) {
    if (c < '0' || c > '9') return 0;
    out = out * 10 + (c - '0');
  }
  return out;
}

}  // namespace

Result<Bytes> readFile(const fs::path& path, uint64_t most_bytes) {
  const Descriptor d(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
  if (d.number() < 0) return openError(errno, path);
  RAKUGO_ASSIGN(const uint64_t size, openedSize(d.number(), path, most_bytes));
  Bytes out(size);
  size_t at = 0;
  while (at < out.size()) {
    const ssize_t n = ::read(d.number(), out.data() + at, out.size() - at);
    if (n < 0 && errno == EINTR) continue;
    if (n < 0) return fileError("file.unreadable", phrase("Reading failed: {0}", reason(errno)), path);
    if (n == 0) break;
    at += static_cast<size_t>(n);
  }
  out.resize(at);
  return out;
}

Status writeFileAtomic(const fs::path& path, ByteSpan bytes) {
  const std::string temporary = path.string() + std::string(kTemporaryMark) + std::to_string(::getpid());
  const auto fail = [&](int number) {
    ::unlink(temporary.c_str());
    return writeError(phrase("The file cannot be written"), number, path);
  };
  {
    const Descriptor d(::open(temporary.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644));
    if (d.number() < 0) return fail(errno);
    size_t at = 0;
    while (at < bytes.size()) {
      const ssize_t n = ::write(d.number(), bytes.data() + at, bytes.size() - at);
      if (n < 0 && errno == EINTR) continue;
      if (n <= 0) return fail(errno);
      at += static_cast<size_t>(n);
    }
    if (::fsync(d.number()) != 0) return fail(errno);
  }
  return moveIntoPlace(temporary, path);
}

Status writeFileAtomic(const fs::path& path, std::string_view text) {
  return writeFileAtomic(path, asBytes(text));
}

Status moveIntoPlace(const fs::path& from, const fs::path& to) {
  if (::rename(from.c_str(), to.c_str()) != 0) {
    const int number = errno;
    ::unlink(from.c_str());
    return writeError(phrase("The file cannot be put in place"), number, to);
  }
  return syncFolder(to.parent_path());
}

bool isTemporaryName(std::string_view name) { return temporaryOwner(name) > 0; }

void removeLeftovers(const fs::path& root, const std::vector<std::string>& skip) {
  for (const std::string& path : listFiles(root, skip)) {
    const pid_t owner = temporaryOwner(path);
    const bool alive = owner > 0 && (::kill(owner, 0) == 0 || errno == EPERM);
    if (owner > 0 && !alive) ::unlink((root / path).c_str());
  }
}

Status removeFile(const fs::path& path) {
  if (::unlink(path.c_str()) != 0)
    return errno == ENOENT ? Status{} : Status{writeError(phrase("The file cannot be removed"), errno, path)};
  return syncFolder(path.parent_path());
}

Status makeFolder(const fs::path& path) {
  std::error_code error;
  fs::create_directories(path, error);
  if (error) return writeError(phrase("The folder cannot be made"), error.value(), path);
  return {};
}

std::vector<std::string> listFiles(const fs::path& root, const std::vector<std::string>& skip) {
  std::vector<std::string> out;
  std::error_code error;
  fs::recursive_directory_iterator walk(root, fs::directory_options::skip_permission_denied, error);
  for (; !error && walk != fs::recursive_directory_iterator(); walk.increment(error)) {
    const std::string relative = walk->path().lexically_relative(root).generic_string();
    std::error_code ignored;
    if (walk->is_symlink(ignored)) {
      continue;
    }
    if (walk->is_directory(ignored)) {
      if (std::find(skip.begin(), skip.end(), relative) != skip.end() || walk.depth() > 32)
        walk.disable_recursion_pending();
    } else if (walk->is_regular_file(ignored)) {
      out.push_back(relative);
    }
  }
  std::sort(out.begin(), out.end());
  return out;
}

MappedFile::MappedFile(MappedFile&& other) noexcept : data_(other.data_), size_(other.size_) {
  other.data_ = nullptr;
  other.size_ = 0;
}

MappedFile& MappedFile::operator=(MappedFile&& other) noexcept {
  std::swap(data_, other.data_);
  std::swap(size_, other.size_);
  return *this;
}

MappedFile::~MappedFile() {
  if (data_ != nullptr) ::munmap(const_cast<std::byte*>(data_), size_);
}

Result<MappedFile> MappedFile::open(const fs::path& path, uint64_t most_bytes) {
  const Descriptor d(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
  if (d.number() < 0) return openError(errno, path);
  RAKUGO_ASSIGN(const uint64_t size, openedSize(d.number(), path, most_bytes));
  MappedFile out;
  if (size == 0) return out;
  void* data = ::mmap(nullptr, size, PROT_READ, MAP_PRIVATE, d.number(), 0);
  if (data == MAP_FAILED)
    return fileError("file.unreadable", phrase("The file cannot be mapped: {0}", reason(errno)), path);
  out.data_ = static_cast<const std::byte*>(data);
  out.size_ = size;
  return out;
}

bool isInnerPath(std::string_view relative) {
  if (relative.empty() || relative.front() == '/' || relative.size() > 1024) return false;
  for (const char c : relative)
    if (c == '\\' || static_cast<unsigned char>(c) < 0x20 || c == 0x7F) return false;
  size_t at = 0;
  while (at <= relative.size()) {
    const size_t end = std::min(relative.find('/', at), relative.size());
    const std::string_view step = relative.substr(at, end - at);
    if (step.empty() || step == "." || step == "..") return false;
    at = end + 1;
  }
  return true;
}

}  // namespace rakugo::base
