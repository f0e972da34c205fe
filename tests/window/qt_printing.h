// How GoogleTest shows Qt's values; found by argument-dependent lookup, hence in the global namespace.
#pragma once

#include <QKeySequence>
#include <QString>
#include <QStringList>
#include <ostream>

inline void PrintTo(const QString& text, std::ostream* out) { *out << '"' << text.toStdString() << '"'; }
inline void PrintTo(const QKeySequence& keys, std::ostream* out) { *out << keys.toString().toStdString(); }
inline std::ostream& operator<<(std::ostream& out, const QString& text) { return out << text.toStdString(); }
