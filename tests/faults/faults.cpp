// Preloaded into a program (LD_PRELOAD): makes one system call that writes fail, or ends the program there.
//
//   RAKUGO_FAULT=count           counts the calls and writes the number to the file named by
//   RAKUGO_FAULT_COUNT RAKUGO_FAULT=fail:N:ERRNO    the Nth call (from 1) fails with that errno
//   RAKUGO_FAULT=from:N:ERRNO    the Nth and all later ones do: a full disk stays full
//   RAKUGO_FAULT=kill:N          the program ends as by SIGKILL just before the Nth call
//   RAKUGO_FAULT=tear:N          the same, but a write is half done first
//
// Only calls on files count: standard streams and sockets are left alone.
#include <dlfcn.h>
#include <errno.h>
#include <fcntl.h>
#include <signal.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

#include <atomic>

namespace {

enum class Mode { none, count, fail, from, kill, tear };

struct Plan {
  Mode mode = Mode::none;
  int at = 0;
  int error = EIO;
};

const Plan& plan() {
  static const Plan kPlan = [] {
    Plan out;
    const char* text = getenv("RAKUGO_FAULT");
    if (text == nullptr) return out;
    char mode[16] = {};
    sscanf(text, "%15[a-z]:%d:%d", mode, &out.at, &out.error);
    const struct {
      const char* name;
      Mode mode;
    } kModes[] = {{"count", Mode::count},
                  {"fail", Mode::fail},
                  {"from", Mode::from},
                  {"kill", Mode::kill},
                  {"tear", Mode::tear}};
    for (const auto& m : kModes)
      if (strcmp(m.name, mode) == 0) out.mode = m.mode;
    return out;
  }();
  return kPlan;
}

std::atomic<int> calls{0};

void die() {
  kill(getpid(), SIGKILL);
  for (;;) pause();
}

// True when this call is to fail; errno is set. `half` is what a torn call does first.
template <class Half>
bool struck(Half half) {
  if (plan().mode == Mode::none) return false;
  const int number = ++calls;
  switch (plan().mode) {
    case Mode::fail:
      if (number != plan().at) return false;
      errno = plan().error;
      return true;
    case Mode::from:
      if (number < plan().at) return false;
      errno = plan().error;
      return true;
    case Mode::kill:
      if (number == plan().at) die();
      return false;
    case Mode::tear:
      if (number == plan().at) {
        half();
        die();
      }
      return false;
    default:
      return false;
  }
}

bool struck() {
  return struck([] {});
}

template <class F>
F next(const char* name) {
  return reinterpret_cast<F>(dlsym(RTLD_NEXT, name));
}

bool isFile(int descriptor) {
  struct stat info {};
  return descriptor > 2 && fstat(descriptor, &info) == 0 && S_ISREG(info.st_mode);
}

// Written when the program ends by itself.
struct Teller {
  ~Teller() {
    const char* file = getenv("RAKUGO_FAULT_COUNT");
    if (plan().mode != Mode::count || file == nullptr) return;
    if (FILE* out = fopen(file, "w"); out != nullptr) {
      fprintf(out, "%d\n", calls.load());
      fclose(out);
    }
  }
} teller;

}  // namespace

extern "C" {

int open(const char* path, int flags, ...) {
  va_list list;
  va_start(list, flags);
  const mode_t mode = (flags & O_CREAT) != 0 ? va_arg(list, mode_t) : 0;
  va_end(list);
  static const auto real = next<int (*)(const char*, int, ...)>("open");
  if ((flags & (O_WRONLY | O_RDWR)) != 0 && strncmp(path, "/dev/", 5) != 0 && struck()) return -1;
  return real(path, flags, mode);
}

ssize_t write(int descriptor, const void* data, size_t size) {
  static const auto real = next<ssize_t (*)(int, const void*, size_t)>("write");
  if (isFile(descriptor) && struck([&] { (void)!real(descriptor, data, size / 2); })) return -1;
  return real(descriptor, data, size);
}

int fsync(int descriptor) {
  static const auto real = next<int (*)(int)>("fsync");
  return struck() ? -1 : real(descriptor);
}

int ftruncate(int descriptor, off_t size) {
  static const auto real = next<int (*)(int, off_t)>("ftruncate");
  return struck() ? -1 : real(descriptor, size);
}

int rename(const char* from, const char* to) {
  static const auto real = next<int (*)(const char*, const char*)>("rename");
  return struck() ? -1 : real(from, to);
}

int unlink(const char* path) {
  static const auto real = next<int (*)(const char*)>("unlink");
  return struck() ? -1 : real(path);
}

int mkdir(const char* path, mode_t mode) {
  static const auto real = next<int (*)(const char*, mode_t)>("mkdir");
  return struck() ? -1 : real(path, mode);
}

}  // extern "C"
