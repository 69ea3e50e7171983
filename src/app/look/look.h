// Colours by role, fonts and drawn marks, for day and night.
#pragma once

#include <QColor>
#include <QFont>
#include <QObject>
#include <QPainter>
#include <QPointer>
#include <QRectF>
#include <functional>
#include <map>

class QApplication;
class QWidget;

namespace pecorra {

struct Colours {
  QColor paper, raised, side, line, ink, quiet, accent, error, warning, heading, good;
  QColor warning_text, good_text;  // darker (by night lighter) forms for text
  QColor lit;                      // row and column of the context
  QColor cut;                      // the tinted block of material
  QColor notice;                   // behind something to decide
};

// Fonts and colours of a paper; put in on the interface thread, so that it can be painted on another.
struct PaperLook {
  QFont plain, bold;
  Colours colours;
};

class Look : public QObject {
  Q_OBJECT
 public:
  static Look& get();
  const Colours& colours() const { return night_ ? night_colours_ : day_colours_; }
  const Colours& day() const { return day_colours_; }  // for paper
  bool is_night() const { return night_; }
  void set_night(bool night);

  // Loads the shipped fonts and dresses the application.
  void dress(QApplication& application);

  // Renders the glyphs of the common fonts once, until `enough` is true: done while a shop is being read.
  void warm_up(const std::function<bool()>& enough) const;

  // Puts the style sheet on a window, and on what is in it later. Not on the application: there, each widget put into
  // a layout would style all that is in it anew, a third of the time to build a page.
  void wear(QWidget& window);

  QFont text(double pixels, bool bold = false) const;
  QFont mono(double pixels) const;

 signals:
  void changed();

 private:
  Look();
  void apply();
  bool night_ = false;
  std::vector<QPointer<QWidget>> windows_;
  Colours day_colours_, night_colours_;
  QFont new_font(double pixels, bool bold) const;
  mutable std::map<std::pair<int, bool>, QFont> fonts_;
  QString text_family_, mono_family_;
};

// Colour of a widget's text, by day and by night. Tones are roles of the palette: a palette or style sheet of a
// widget's own would cost at every start and be lost under the application's.
enum class Tone { ink, quiet, accent, error, heading, warning };
void set_tone(QWidget* widget, Tone tone);
QColor tone_colour(Tone tone);

inline const Colours& colours() { return Look::get().colours(); }

// Where a number comes from.
enum class Mark { none, proven, table, guess, typed, beyond, changed };
void draw_mark(QPainter& painter, QRectF box, Mark mark, const Colours& colours = pecorra::colours());
QString mark_name(Mark mark);

// One line of text, cut short at the right where it does not fit; cheaper than QPainter's laying out of paragraphs.
void draw_line(QPainter& painter, const QRectF& box, Qt::Alignment alignment, const QString& text);

// Line icons of the rail and of actions, drawn in a unit square.
enum class Icon { cutters, holders, tables, jobs, materials, machines, shop, undo, redo, add, copy, remove, night };
void draw_icon(QPainter& painter, QRectF box, Icon icon, const QColor& colour);

}  // namespace pecorra
