// Writes a file as a whole: on success it is on disk, otherwise the old file is untouched.
#pragma once

#include <QByteArray>
#include <QString>

namespace pecorra {

// Why this file must not be written to: it is a shop or belongs to one, a folder, or a device. Otherwise nothing. Reads
// the disk.
QString fault_of_target(const QString& name);

// Returns what went wrong, or nothing. Links are followed. A replaced file keeps its permissions; a new one gets those
// of the user's umask. Writes the disk.
QString write_file(const QString& name, const QByteArray& bytes);

// Gives a finished file its name, which must be free, and synchronises that too. Returns what went wrong, or nothing.
QString give_name(const QString& making, const QString& name);

}  // namespace pecorra
