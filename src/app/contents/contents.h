// The contents: what the mod holds, each with a small picture and a mark of its state.
#pragma once

#include <QImage>
#include <QVector>
#include <QWidget>
#include <map>

#include "app/shell/session.h"

class QVBoxLayout;

namespace rakugo::app {

class Contents : public QWidget {
  Q_OBJECT
 public:
  explicit Contents(Session& session, QWidget* parent = nullptr);
  /// Pictures of a model from all round, the usual angle first; a row turns through them under the pointer.
  void setPictures(const std::string& model, QVector<QImage> round);
  /// The same of a source; the models made of it show it until they have pictures of their own.
  void setSourcePictures(const std::string& source, QVector<QImage> round);
  [[nodiscard]] bool hasPicture(const std::string& model) const { return pictures_.count(model) != 0; }
  [[nodiscard]] qsizetype pictureCount(const std::string& model) const {
    const auto found = pictures_.find(model);
    return found == pictures_.end() ? 0 : found->second.size();
  }
  void refresh();

 Q_SIGNALS:
  void sourceChosen(const QString& name);
  void modelChosen();
  void objectChosen();

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  Session& session_;
  QVBoxLayout* column_;
  void showPictures(const QString& row, const QVector<QImage>& pictures);
  std::map<std::string, QVector<QImage>> pictures_, source_pictures_;
};

}  // namespace rakugo::app
