// Writes a whole file: on success it is on the disk, otherwise the old file is untouched.
#pragma once

#include <QByteArray>
#include <QString>

namespace pecorra {

// Nothing, or why this cannot be the target of a file that is written: it is a shop or a file that belongs to one, a
// folder, or a device. Reads the disk.
QString fault_of_target(const QString& name);

// What went wrong, or nothing. A link is followed to the file it names. A file that is replaced keeps its permissions;
// a new one has those of the user's umask. Writes the disk.
QString write_file(const QString& name, const QByteArray& bytes);

// A finished file gets its name, which nothing has yet, and that is on the disk too. What went wrong, or nothing.
QString give_name(const QString& making, const QString& name);

}  // namespace pecorra
