'use client';
import { ALL_IN_ORDER, type BoardOrder } from './board-rows';

/** Which pages are shown, and in which order; what their dots say. */
export function BoardFilter({
  order,
  families,
  onOrder,
}: {
  order: BoardOrder;
  families: readonly string[];
  onOrder: (order: BoardOrder) => void;
}) {
  const byImportance = order.sort === 'importance' && !order.descending;
  return (
    <div className="board-filter">
      <input
        className="small-field"
        style={{ width: 190 }}
        aria-label="Show pages by name"
        placeholder="show by name or address"
        value={order.find}
        onChange={(event) => onOrder({ ...order, find: event.target.value })}
      />
      <select
        className="small-field"
        style={{ width: 'auto' }}
        aria-label="Show a family"
        value={order.family ?? ''}
        onChange={(event) => onOrder({ ...order, family: event.target.value || null })}
      >
        <option value="">all families</option>
        {families.map((family) => (
          <option key={family}>{family}</option>
        ))}
      </select>
      {byImportance ? (
        <span className="muted">the most important first</span>
      ) : (
        <button
          type="button"
          className="key"
          onClick={() => onOrder({ ...order, sort: ALL_IN_ORDER.sort, descending: false })}
        >
          the most important first
        </button>
      )}
      <span style={{ flex: 1 }} />
      <span className="muted">
        <span className="as-is">●</span> as is&ensp;<span className="treated">●</span> treated, proved
      </span>
    </div>
  );
}
