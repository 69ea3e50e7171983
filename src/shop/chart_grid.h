// The chart as data: cutters × materials for one operation, or operations of one cutter × materials. Cells are computed
// on demand, or in slices when the window is idle.
#pragma once

#include <unordered_map>
#include <vector>

#include "core/transfer/sheet.h"
#include "shop/evaluation.h"

namespace pecorra {

enum class ChartRows { cutters, operations };

struct ChartWish {
  ChartRows rows = ChartRows::cutters;
  Id cutter;                   // whose operations
  std::string text;            // every word is in name, kind, maker or number
  bool only_able = false;      // cutters that can do the operation
  bool all_materials = false;  // including those the shop does not cut
  bool operator==(const ChartWish&) const = default;
};

// Kept small: there are hundreds of thousands of these.
struct ChartCell {
  float n_rpm = 0, vf_mm_min = 0, q_cm3_min = 0;  // Q 0: not milling
  SourceKind source = SourceKind::none;
  NoAnswer reason = NoAnswer::none;
  bool guess = false, proven = false, held = false, ready = false;
  bool found() const { return source != SourceKind::none; }
};

class ChartGrid {
 public:
  // State and resolver must not change until the next call.
  void set(const ShopState& state, const Resolver& resolver, const Context& context, const ChartWish& wish);
  void clear();

  ChartRows rows() const { return wish_.rows; }
  int row_count() const {
    return static_cast<int>(wish_.rows == ChartRows::cutters ? cutters_.size() : operations_.size());
  }
  int column_count() const { return static_cast<int>(materials_.size()); }
  // The cutter of this row, or the only one.
  const Cutter& cutter_at(int row) const;
  OperationKind operation_at(int row) const;
  const WorkMaterial& material_at(int column) const;
  int row_of(const Id& cutter) const;
  int row_of(OperationKind operation) const;
  int column_of(const Id& material) const;

  const ChartCell& cell(int row, int column) const;
  // Share used of the tightest limit; 0 if there is none.
  double worst_used(int row, int column) const;

  // Computes until the time is up; true once every cell is ready.
  bool work(std::int64_t microseconds) const;
  bool is_complete() const { return next_ >= cells_.size(); }
  std::size_t bytes() const { return cells_.capacity() * sizeof(ChartCell) + keys_.capacity() * sizeof(CutterKey); }

  // Rows and columns as shown, with S and F of each cell.
  Sheet sheet(UnitSystem units) const;

 private:
  const CutterKey& key_at(int row) const;
  std::size_t place(int row, int column) const {
    return static_cast<std::size_t>(row) * materials_.size() + static_cast<std::size_t>(column);
  }

  const ShopState* state_ = nullptr;
  const Resolver* resolver_ = nullptr;
  Context context_;
  ChartWish wish_;
  std::vector<std::size_t> cutters_, materials_;  // indices into the state
  std::vector<OperationKind> operations_;
  std::vector<MaterialKey> material_keys_;
  MachineKey machine_key_;
  const Machine* machine_ = nullptr;
  Query query_;
  mutable std::vector<CutterKey> keys_;
  mutable std::vector<bool> key_ready_;
  mutable std::vector<ChartCell> cells_;
  mutable std::size_t next_ = 0;
  mutable std::unordered_map<std::size_t, double> used_;
};

}  // namespace pecorra
