// Colours, fonts and drawn marks: the natural dyes, by day and by night.
#pragma once

#include <QColor>
#include <QFont>
#include <QObject>
#include <QPainter>
#include <QRectF>
#include <functional>
#include <map>

class QApplication;
class QWidget;

namespace pecorra {

struct Dyes {
  QColor fleece, raised, side, line, ink, quiet, woad, madder, weld, walnut, lichen;
  QColor weld_text, lichen_text;  // darker (by night lighter) forms for text
  QColor lit;                     // row and column of the context
  QColor cut;                     // the tinted block of material
  QColor notice;                  // behind something to decide
};

// Fonts and colours of a paper; put in on the interface thread, so that it can be painted on another.
struct PaperLook {
  QFont plain, bold;
  Dyes dyes;
};

class Look : public QObject {
  Q_OBJECT
 public:
  static Look& get();
  const Dyes& dyes() const { return night_ ? night_dyes_ : day_dyes_; }
  const Dyes& day() const { return day_dyes_; }  // for paper
  bool is_night() const { return night_; }
  void set_night(bool night);

  // Loads the shipped fonts and dresses the application.
  void dress(QApplication& application);

  // Draws the letters of the usual fonts once, until `enough` says so: work for the moment in which a shop is read.
  void warm_up(const std::function<bool()>& enough) const;

  // While one lives the style sheet is off: a window is built several times faster without it.
  class Undressed {
   public:
    Undressed();
    ~Undressed();
  };

  QFont text(double pixels, bool bold = false) const;
  QFont mono(double pixels) const;

 signals:
  void changed();

 private:
  Look();
  void apply();
  bool night_ = false;
  int undressed_ = 0;
  Dyes day_dyes_, night_dyes_;
  QFont new_font(double pixels, bool bold) const;
  mutable std::map<std::pair<int, bool>, QFont> fonts_;
  QString text_family_, mono_family_;
};

// Colour of a widget's text, by day and by night. Tones are roles of the palette: a palette or style sheet of a
// widget's own would cost at every start and be lost under the application's.
enum class Tone { ink, quiet, woad, madder, walnut, weld };
void set_tone(QWidget* widget, Tone tone);
QColor tone_colour(Tone tone);

inline const Dyes& dyes() { return Look::get().dyes(); }

// Where a number comes from.
enum class Mark { none, proven, table, guess, typed, beyond, changed };
void draw_mark(QPainter& painter, QRectF box, Mark mark, const Dyes& dyes = pecorra::dyes());
QString mark_name(Mark mark);

// One line of text, cut short at the right where it does not fit; cheaper than QPainter's laying out of paragraphs.
void draw_line(QPainter& painter, const QRectF& box, Qt::Alignment alignment, const QString& text);

// Line icons of the rail and of actions, drawn in a unit square.
enum class Icon { cutters, holders, tables, jobs, materials, machines, shop, undo, redo, add, copy, remove, night };
void draw_icon(QPainter& painter, QRectF box, Icon icon, const QColor& colour);

}  // namespace pecorra
