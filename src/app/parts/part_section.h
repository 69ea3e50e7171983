// One kind of thing in the stores: its list at the left, the fields of the selected one at the right.
#pragma once

#include <QHeaderView>
#include <QLabel>
#include <QStackedWidget>
#include <QTableView>
#include <QVBoxLayout>
#include <functional>
#include <memory>

#include "app/look/look.h"
#include "app/parts/part_model.h"
#include "app/parts/parts_section.h"
#include "app/widgets/bench_head.h"
#include "app/widgets/conditions_panel.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/property_form.h"
#include "shop/edit.h"

namespace pecorra {

template <class T>
class PartExtra : public QWidget {
 public:
  virtual void show_part(const T& part, UnitSystem units) = 0;
};

template <class T>
struct PartSpec {
  QString title, new_text, empty_text, unstated = QObject::tr("not stated");
  std::function<const Collection<T>&(const ShopState&)> all;
  std::function<bool(const T&)> belongs;     // none: all of them
  std::vector<std::string_view> columns;     // the first one stretches
  bool by_symbol = false;                    // headings are symbols where there are any
  bool sorted = true;                        // by the first column; else as the shop keeps them
  std::vector<std::string_view> fields;      // in their order; "# Heading" is a heading
  std::vector<std::string_view> lines;       // fields that are texts of several lines
  bool can_add = true;                       // else they are made elsewhere, as `empty_text` says
  std::vector<std::string_view> picked;      // texts that are chosen from `choices`
  std::function<QString(const T&)> name_of;  // of one that is found by more than its name
  std::function<T()> fresh;                  // a new one
  std::function<std::vector<Message>(const T&)> check;
  // Side effects of an accepted value, if any.
  std::function<void(T& after, std::string_view key)> follow;
  std::function<Change(const T& before, const T& after, const QString& label)> change;
  std::function<QString(const T&)> subtitle;
  std::function<QString(const T&)> keep;       // why it cannot be deleted; empty: it can
  std::function<QStringList(const T&)> users;  // what still uses it, so that it cannot be deleted
  // Choices of a field that depend on the thing or the shop, as of an id.
  std::function<std::vector<FieldChoice>(const T&, std::string_view key)> choices;
  // What a property says in the list where that is not its value, as of an id; nothing: its value.
  std::function<std::optional<QString>(const T&, const Property<T>&)> cell;
  // Extra widget above the fields, refreshed on every change; `change` takes the edited part.
  std::function<PartExtra<T>*(std::function<void(T after, const QString& label)> change)> extra;
  // Below the list, about the selected one; `share` of the height, the list has 1.
  std::function<QWidget*()> below;
  int below_share = 2;
  std::function<void(QWidget* below, const T* selected)> show_below;
  // Said to the user where what was chosen cannot be made; set by the section.
  std::shared_ptr<std::function<void(const QString&)>> fail = std::make_shared<std::function<void(const QString&)>>();
  // Offers several to start from; none: `fresh` at once.
  std::function<void(QWidget* under, std::function<void(T)> add)> choose;
};

template <class T>
class PartSection : public PartsSection {
 public:
  PartSection(Workspace& workspace, PartSpec<T> spec, const QString& object_name, QObject* parent)
      : PartsSection(parent),
        workspace_(workspace),
        spec_(std::move(spec)),
        model_(new PartModel<T>(workspace, spec_.all, spec_.belongs, spec_.columns, spec_.by_symbol, spec_.sorted,
                                spec_.cell, this)),
        table_(plain_table(model_, object_name + QStringLiteral("_table"))),
        empty_(new QLabel(spec_.empty_text)),
        head_(new BenchHead(object_name + QStringLiteral("_title"))),
        form_(new PropertyForm) {
    *spec_.fail = [this](const QString& why) { emit said(why, true); };
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    columns_ = new FitColumns(table_, 0);
    connect(table_->horizontalHeader(), &QHeaderView::sectionClicked, this, [this](int i) { model_->sort_by(i); });
    empty_->setAlignment(Qt::AlignCenter);
    empty_->setWordWrap(true);
    column->addWidget(table_, 1);
    column->addWidget(empty_, 1);
    if (spec_.below) column->addWidget(below_ = spec_.below(), spec_.below_share);
    list_ = page;

    bench_ = new QWidget;
    auto* side = bench_column(bench_);
    side->addWidget(head_);
    auto* inside = new QWidget;
    auto* fields = new QVBoxLayout(inside);
    fields->setContentsMargins(0, 0, 0, 0);
    if (spec_.extra) {
      extra_ = spec_.extra([this](T after, const QString& label) {
        if (const T* before = chosen())
          workspace_.shop().edit(*before, after, name_of(*before) + QStringLiteral(": ") + label);
      });
      fields->addWidget(extra_);
    }
    for (const std::string_view key : spec_.fields) {
      if (key.starts_with("# ")) {
        form_->heading(QObject::tr(std::string(key.substr(2)).c_str()));
        continue;
      }
      const Property<T>& property = *find_property<T>(key);
      const bool may_be_none = !property.choices.empty() && std::holds_alternative<std::monostate>(property.get(T{}));
      FormField field = form_field(property, may_be_none ? spec_.unstated : QString());
      if (std::find(spec_.picked.begin(), spec_.picked.end(), key) != spec_.picked.end())
        field.choices.push_back({QString(), QString()});
      field.lines = std::find(spec_.lines.begin(), spec_.lines.end(), key) != spec_.lines.end();
      form_->add(field);
    }
    fields->addWidget(form_);
    fields->addStretch(1);
    side->addWidget(scrolled(inside), 1);

    connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& now) {
      if (const T* thing = model_->at(now.row())) select(thing->id);
    });
    connect(form_, &PropertyForm::accepted, this,
            [this](const QString& key, const Value& value, const QString& typed) { accept(key, value, typed); });
    // What is below follows what is typed.
    connect(form_, &PropertyForm::being_typed, this, [this](const QString& key, const Value& value) {
      const T* thing = chosen();
      if (!thing || !below_ || !spec_.show_below) return;
      T draft = *thing;
      const Property<T>& property = *find_property<T>(key.toStdString());
      if (!property.set(draft, value) && std::holds_alternative<std::monostate>(value))
        property.set(draft, std::string());
      if (spec_.check) form_->show_messages(spec_.check(draft));
      spec_.show_below(below_, &draft);
    });
    connect(&workspace_, &Workspace::data_changed, this, [this] { refresh(); });
    connect(&workspace_, &Workspace::context_changed, this, [this] { refresh(); });
    if (model_->rowCount() > 0) table_->setCurrentIndex(model_->index(0, 0));
    refresh();
  }

  QString title() const override { return spec_.title; }
  bool can_add() const override { return spec_.can_add; }
  QString new_text() const override { return spec_.new_text; }
  QString count_text() const override {
    return model_->rowCount() == static_cast<int>(model_->total())
               ? QString::number(model_->total())
               : tr("%1 of %2 shown").arg(model_->rowCount()).arg(model_->total());
  }
  QWidget* focus_target() const override { return table_; }
  void set_text(const QString& text) override {
    model_->set_text(text);
    refresh();
  }
  void add(QWidget* under) override {
    if (!spec_.can_add) return emit said(spec_.empty_text, false);
    if (spec_.choose) spec_.choose(under, [this](T thing) { put(std::move(thing)); });
    else put(spec_.fresh());
  }
  void copy() override {
    if (const T* thing = chosen()) {
      T other = *thing;
      if (!spec_.name_of) other.name = tr("%1, copy").arg(text_of(other.name)).toStdString();
      put(std::move(other));
    }
  }
  void remove() override {
    const T* thing = chosen();
    if (!thing) return;
    if (const QString why = spec_.keep ? spec_.keep(*thing) : QString(); !why.isEmpty()) return emit said(why, true);
    if (const QStringList used = spec_.users ? spec_.users(*thing) : QStringList(); !used.isEmpty())
      return emit said(
          tr("%1 is on %2; give them another one first.")
              .arg(name_of(*thing),
                   used.size() > 3
                       ? tr("%1 and %2 more").arg(used.mid(0, 2).join(QStringLiteral(", "))).arg(used.size() - 2)
                       : used.join(QStringLiteral(", "))),
          true);
    const int row = model_->row_of(thing->id);
    Change change;
    change.label = tr("Deleted %1").arg(name_of(*thing));
    change.remove(*thing);
    chosen_ = {};
    workspace_.shop().apply(std::move(change));
    if (const T* next = model_->at(std::min(row, model_->rowCount() - 1))) select(next->id);
  }
  void select(const Id& id) override {
    if (id != chosen_) form_->finish_typing();
    chosen_ = id;
    refresh();
  }

 private:
  void put(T thing) {
    thing.id = new_id();
    thing.revision = 0;
    Change change;
    change.label = tr("New: %1").arg(name_of(thing));
    change.add(thing);
    chosen_ = thing.id;
    workspace_.shop().apply(std::move(change));
    for (const std::string_view key : spec_.fields)
      if (!key.starts_with("# ")) return form_->focus_field(text_of(key));
  }
  QString name_of(const T& thing) const { return spec_.name_of ? spec_.name_of(thing) : text_of(thing.name); }
  const T* chosen() const { return spec_.all(workspace_.state()).find(chosen_); }

  void refresh() {
    const T* thing = chosen();
    if ((!thing || model_->row_of(thing->id) < 0) && model_->rowCount() > 0) {
      thing = model_->at(0);
      chosen_ = thing->id;
    }
    if (const int row = thing ? model_->row_of(thing->id) : -1; row >= 0 && table_->currentIndex().row() != row) {
      const QSignalBlocker quiet(table_->selectionModel());
      table_->setCurrentIndex(model_->index(row, 0));
      table_->scrollTo(model_->index(row, 0));
      table_->viewport()->update();
    }
    table_->setVisible(model_->rowCount() > 0);
    empty_->setVisible(model_->rowCount() == 0);
    empty_->setText(model_->total() == 0 ? spec_.empty_text : tr("Nothing matches the filter."));
    form_->setVisible(thing != nullptr);
    columns_->fit();
    if (extra_) extra_->setVisible(thing != nullptr);
    if (below_) {
      spec_.show_below(below_, thing);
      fit_to_rows(*table_);
    }
    emit counted();
    if (!thing) return head_->say({}, spec_.title, spec_.empty_text);
    head_->say({}, name_of(*thing), spec_.subtitle ? spec_.subtitle(*thing) : QString());
    if (extra_) extra_->show_part(*thing, workspace_.units());
    form_->set_units(workspace_.units());
    if (spec_.choices)
      for (const QString& key : form_->keys())
        if (const auto choices = spec_.choices(*thing, key.toStdString()); !choices.empty())
          form_->set_choices(key, choices);
    form_->fill_from(*thing);
    form_->show_messages(spec_.check ? spec_.check(*thing) : std::vector<Message>{});
  }

  void accept(const QString& key, const Value& value, const QString& typed) {
    const T* before = chosen();
    if (!before) return;
    const Property<T>& property = *find_property<T>(key.toStdString());
    T after = edited(*before, property, value, typed.toStdString(), workspace_.units());
    if (after.name.empty() && !spec_.name_of) {  // something without a name could not be found again
      emit said(tr("A name is required; %1 was not changed.").arg(name_of(*before)), true);
      return refresh();
    }
    if (spec_.follow) spec_.follow(after, property.key);
    const QString label =
        name_of(*before) + QStringLiteral(": ") +
        (property.quantity == Quantity::id ? QStringLiteral("%1 %2").arg(label_text(property.label), typed)
                                           : edit_label(*before, after, property, workspace_.units()));
    if (spec_.change) workspace_.shop().apply(spec_.change(*before, after, label));
    else workspace_.shop().edit(*before, after, label);
  }

  Workspace& workspace_;
  PartSpec<T> spec_;
  PartModel<T>* model_;
  QTableView* table_;
  QLabel* empty_;
  BenchHead* head_;
  PropertyForm* form_;
  PartExtra<T>* extra_ = nullptr;
  QWidget* below_ = nullptr;
  FitColumns* columns_ = nullptr;
  Id chosen_;
};

}  // namespace pecorra
