// The texts that a widget and what is in it paint, with where they stand and what they are clipped to.
#pragma once

#include <QPaintDevice>
#include <QPaintEngine>
#include <QPainter>
#include <QWidget>
#include <vector>

namespace test {

struct PaintedText {
  QString text;
  QRectF place, clip;  // in the widget
};

class TextRecorder : public QPaintDevice, private QPaintEngine {
 public:
  static std::vector<PaintedText> of(QWidget& widget) {
    TextRecorder recorder(widget.size());
    widget.render(&recorder);
    return std::move(recorder.texts_);
  }

 private:
  explicit TextRecorder(QSize size) : QPaintEngine(AllFeatures), size_(size) {}
  QPaintEngine* paintEngine() const override { return const_cast<TextRecorder*>(this); }
  int metric(PaintDeviceMetric what) const override {
    switch (what) {
      case PdmWidth: return size_.width();
      case PdmHeight: return size_.height();
      case PdmDpiX:
      case PdmDpiY:
      case PdmPhysicalDpiX:
      case PdmPhysicalDpiY: return 96;
      case PdmDevicePixelRatioScaled: return static_cast<int>(devicePixelRatioFScale());
      case PdmDepth: return 32;
      default: return 1;
    }
  }
  bool begin(QPaintDevice*) override { return true; }
  bool end() override { return true; }
  void updateState(const QPaintEngineState&) override {}
  void drawPixmap(const QRectF&, const QPixmap&, const QRectF&) override {}
  void drawImage(const QRectF&, const QImage&, const QRectF&, Qt::ImageConversionFlags) override {}
  void drawPath(const QPainterPath&) override {}
  void drawPolygon(const QPointF*, int, PolygonDrawMode) override {}
  Type type() const override { return User; }
  void drawTextItem(const QPointF& at, const QTextItem& item) override {
    const QRectF place(at.x(), at.y() - item.ascent(), item.width(), item.ascent() + item.descent());
    const QTransform to_widget = painter()->transform();
    const QRectF clip = painter()->hasClipping() ? painter()->clipBoundingRect() : QRectF({0, 0}, size_);
    texts_.push_back({item.text(), to_widget.mapRect(place), to_widget.mapRect(clip)});
  }

  QSize size_;
  std::vector<PaintedText> texts_;
};

}  // namespace test
