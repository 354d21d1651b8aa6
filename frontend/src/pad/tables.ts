import { fetchFile, saveFile } from '../api/client'
import { csvOf } from './pictures'

export type Cell = string | number | null

/** A table as a file: comma-separated values, or a workbook. */
export async function saveTable(how: 'csv' | 'xlsx', name: string, columns: string[], rows: Cell[][]): Promise<void> {
  if (how === 'csv') saveFile(new Blob([csvOf([columns, ...rows])], { type: 'text/csv' }), `${name}.csv`)
  else saveFile(await fetchFile('/api/table.xlsx', { name: name.slice(0, 120), columns, rows }), `${name}.xlsx`)
}
