/* A file system without hard links, as exFAT is one, and a power cut at will: interposed before the C library.
   MILL_NO_LINKS: links are refused. MILL_OTHER_DISK: links between folders are refused as between disks. MILL_DIE_AT: the process is killed when it renames onto a path that ends so. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <signal.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

int link(const char *from, const char *to) {
  static int (*real)(const char *, const char *);
  if (!real) real = dlsym(RTLD_NEXT, "link");
  if (getenv("MILL_OTHER_DISK")) {
    /* Every folder is a disk of its own. */
    const char *a = strrchr(from, '/'), *b = strrchr(to, '/');
    if (a && b && (a - from != b - to || strncmp(from, to, a - from) != 0)) {
      errno = EXDEV;
      return -1;
    }
  }
  if (getenv("MILL_NO_LINKS")) {
    errno = EPERM;
    return -1;
  }
  return real(from, to);
}

int rename(const char *from, const char *to) {
  static int (*real)(const char *, const char *);
  const char *end = getenv("MILL_DIE_AT");
  size_t length = strlen(to);
  if (!real) real = dlsym(RTLD_NEXT, "rename");
  if (end && length >= strlen(end) && strcmp(to + length - strlen(end), end) == 0) kill(getpid(), SIGKILL);
  return real(from, to);
}
