#include "store/write_file.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <QFile>
#include <QFileInfo>
#include <QObject>
#include <QRandomGenerator>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <utility>

namespace pecorra {
namespace {

class Handle {
 public:
  explicit Handle(int fd) : fd_(fd) {}
  ~Handle() {
    if (fd_ >= 0) ::close(fd_);
  }
  Handle(const Handle&) = delete;
  Handle& operator=(const Handle&) = delete;
  int get() const { return fd_; }
  // Some file systems report a full disk only here.
  bool close() { return ::close(std::exchange(fd_, -1)) == 0; }

 private:
  int fd_;
};

bool write_all(int fd, const QByteArray& bytes) {
  qsizetype done = 0;
  while (done < bytes.size()) {
    const ssize_t n = ::write(fd, bytes.constData() + done, static_cast<std::size_t>(bytes.size() - done));
    if (n < 0 && errno == EINTR) continue;
    if (n == 0) errno = EIO;
    if (n <= 0) return false;
    done += n;
  }
  return true;
}

bool is_database(const QString& name) {
  if (!QFileInfo(name).isFile()) return false;  // opening a pipe would block
  QFile file(name);
  return file.open(QIODevice::ReadOnly) && file.read(16) == QByteArray("SQLite format 3\0", 16);
}

// Where a link leads, even if that file does not exist yet.
QString behind_links(QString name) {
  for (int hop = 0; hop < 40; ++hop) {
    const QFileInfo info(name);
    if (!info.isSymLink()) break;
    name = info.symLinkTarget();
  }
  return name;
}

// Synchronises the folder of this file.
bool sync_folder(const QString& name) {
  Handle folder(
      ::open(QFile::encodeName(QFileInfo(name).absolutePath()).constData(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
  return folder.get() >= 0 && (::fsync(folder.get()) == 0 || errno == EINVAL);
}

}  // namespace

QString fault_of_target(const QString& wanted) {
  const QString name = behind_links(wanted);
  const QFileInfo info(name);
  if (info.isDir()) return QObject::tr("it is a folder");
  if (info.exists() && !info.isFile()) return QObject::tr("it is a device, not a file");
  if (is_database(name)) return QObject::tr("it is a shop; choose another name");
  for (const char* ending : {"-wal", "-shm", "-journal", ".lock"})
    if (name.endsWith(QLatin1String(ending)) && is_database(name.chopped(static_cast<qsizetype>(strlen(ending)))))
      return QObject::tr("it belongs to a shop; choose another name");
  return {};
}

QString write_file(const QString& wanted, const QByteArray& bytes) {
  const auto refused = [&](const QString& why) {
    return QObject::tr("“%1” cannot be written: %2").arg(QFileInfo(wanted).fileName(), why);
  };
  const auto failed = [&](int error) { return refused(qt_error_string(error)); };
  if (const QString fault = fault_of_target(wanted); !fault.isEmpty()) return refused(fault);
  const QString name = behind_links(wanted);
  const QByteArray target = QFile::encodeName(name), folder = QFile::encodeName(QFileInfo(name).absolutePath());

  struct stat before {};
  const bool replaces = ::stat(target.constData(), &before) == 0;
  // A write-protected file is not replaced.
  if (replaces && ::access(target.constData(), W_OK) != 0) return failed(errno);
  const QByteArray making =
      folder + "/.pecorra-" + QByteArray::number(QRandomGenerator::system()->generate64(), 36) + ".part";
  Handle file(::open(making.constData(), O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, replaces ? 0600 : 0666));
  if (file.get() < 0) return failed(errno);
  const auto give_up = [&](int error) {
    ::unlink(making.constData());
    return failed(error);
  };
  if (!write_all(file.get(), bytes)) return give_up(errno);
  if (replaces) {
    // Keeps the group if that is allowed; otherwise nobody gains access.
    const bool same_group = ::fchown(file.get(), static_cast<uid_t>(-1), before.st_gid) == 0;
    if (::fchmod(file.get(), before.st_mode & (same_group ? 0777 : 0707)) != 0) return give_up(errno);
  }
  if (::fsync(file.get()) != 0 || !file.close()) return give_up(errno);
  // The old file is kept until the disk has confirmed the new one.
  const bool kept =
      replaces && ::renameat2(AT_FDCWD, making.constData(), AT_FDCWD, target.constData(), RENAME_EXCHANGE) == 0;
  // Some file systems cannot exchange.
  if (replaces && !kept && errno != EINVAL && errno != ENOSYS) return give_up(errno);
  if (!kept && ::rename(making.constData(), target.constData()) != 0) return give_up(errno);
  if (sync_folder(name)) {
    if (kept) ::unlink(making.constData());
    return {};
  }
  const int error = errno;
  const bool back = kept ? ::renameat2(AT_FDCWD, making.constData(), AT_FDCWD, target.constData(), RENAME_EXCHANGE) == 0
                         : !replaces && ::unlink(target.constData()) == 0;
  if (back) return give_up(error);
  errno = error;
  return QObject::tr("“%1” was written, but the disk did not confirm it: %2")
      .arg(QFileInfo(name).fileName(), qt_error_string(errno));
}

QString give_name(const QString& making, const QString& name) {
  const QByteArray from = QFile::encodeName(making), to = QFile::encodeName(name);
  if (::renameat2(AT_FDCWD, from.constData(), AT_FDCWD, to.constData(), RENAME_NOREPLACE) != 0) {
    if (errno == EEXIST) return QObject::tr("a file with this name already exists");
    // Some file systems cannot rename without replacing.
    if (errno != EINVAL || QFileInfo::exists(name) || ::rename(from.constData(), to.constData()) != 0)
      return QObject::tr("the finished file could not be renamed: %1").arg(qt_error_string(errno));
  }
  if (sync_folder(name)) return {};
  const int error = errno;
  ::rename(to.constData(), from.constData());
  return QObject::tr("the disk did not confirm the write: %1").arg(qt_error_string(error));
}

}  // namespace pecorra
