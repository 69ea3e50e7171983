// Preloaded before a program: of the calls that write, make, rename, synchronise or shorten files, the one numbered
// FAIL_AT fails with FAIL_ERRNO (a short write where that is 0), and with FAIL_ON every later one too that needs room.
// How many there were is written to FAIL_COUNT at the end.
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <fcntl.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

static int calls, fail_at = -1, fail_errno, fail_on;

__attribute__((constructor)) static void begin(void) {
  const char* at = getenv("FAIL_AT");
  if (at) fail_at = atoi(at);
  if (getenv("FAIL_ERRNO")) fail_errno = atoi(getenv("FAIL_ERRNO"));
  fail_on = getenv("FAIL_ON") != NULL;
}

__attribute__((destructor)) static void end(void) {
  const char* name = getenv("FAIL_COUNT");
  if (!name) return;
  FILE* file = fopen(name, "w");
  if (!file) return;
  fprintf(file, "%d\n", calls);
  fclose(file);
}

static int is_file(int fd) {
  struct stat s;
  return fd > 2 && fstat(fd, &s) == 0 && S_ISREG(s.st_mode);
}

// 0: go on. 1: fail with errno set. 2: write half.
static int turn_of(int may_be_short, int needs_room) {
  const int number = __sync_fetch_and_add(&calls, 1);
  if (number != fail_at && !(needs_room && fail_on && fail_at >= 0 && number > fail_at)) return 0;
  if (fail_errno == 0) return may_be_short ? 2 : 0;
  errno = fail_errno;
  return 1;
}

static int turn(int may_be_short) { return turn_of(may_be_short, 1); }

#define REAL(name) ((__typeof__(&name))dlsym(RTLD_NEXT, #name))

ssize_t write(int fd, const void* bytes, size_t size) {
  const int what = is_file(fd) ? turn(1) : 0;
  if (what == 1) return -1;
  return REAL(write)(fd, bytes, what == 2 ? size / 2 + (size == 1) : size);
}
ssize_t pwrite(int fd, const void* bytes, size_t size, off_t at) {
  const int what = is_file(fd) ? turn(1) : 0;
  if (what == 1) return -1;
  return REAL(pwrite)(fd, bytes, what == 2 ? size / 2 + (size == 1) : size, at);
}
ssize_t pwrite64(int fd, const void* bytes, size_t size, off64_t at) {
  const int what = is_file(fd) ? turn(1) : 0;
  if (what == 1) return -1;
  return REAL(pwrite64)(fd, bytes, what == 2 ? size / 2 + (size == 1) : size, at);
}
int fsync(int fd) { return turn(0) == 1 ? -1 : REAL(fsync)(fd); }
int fdatasync(int fd) { return turn(0) == 1 ? -1 : REAL(fdatasync)(fd); }
int ftruncate(int fd, off_t size) { return turn(0) == 1 ? -1 : REAL(ftruncate)(fd, size); }
int ftruncate64(int fd, off64_t size) { return turn(0) == 1 ? -1 : REAL(ftruncate64)(fd, size); }
int rename(const char* from, const char* to) { return turn_of(0, 0) == 1 ? -1 : REAL(rename)(from, to); }
int renameat2(int a, const char* from, int b, const char* to, unsigned flags) {
  return turn_of(0, 0) == 1 ? -1 : REAL(renameat2)(a, from, b, to, flags);
}

#define OPEN(name)                                                            \
  int name(const char* path, int flags, ...) {                                \
    va_list list;                                                             \
    va_start(list, flags);                                                    \
    const mode_t mode = flags & (O_CREAT | __O_TMPFILE) ? va_arg(list, mode_t) : 0; \
    va_end(list);                                                             \
    if ((flags & O_CREAT) && turn(0) == 1) return -1;                         \
    return REAL(name)(path, flags, mode);                                     \
  }
OPEN(open)
OPEN(open64)
