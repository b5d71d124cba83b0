/** A lower triangle, rows packed one after another: L with L·Lᵀ equal to a symmetric matrix. */
export interface Cholesky {
  size: number;
  lower: Float64Array;
}

/**
 * Cholesky factor of a symmetric positive definite matrix (`size`², row by row; only its lower half is read).
 * Throws RangeError where the matrix is not positive definite. Source: Golub & Van Loan, Matrix Computations, 4.2; George & Liu, Computer Solution of Large Sparse Positive Definite Systems, ch. 4 (the envelope).
 */
export function cholesky(matrix: Float64Array, size: number): Cholesky {
  const lower = Float64Array.from(matrix);
  // Left of the first value of a row nothing comes to be: it is passed over.
  const first = new Int32Array(size);
  for (let i = 0; i < size; i++) {
    const row = i * size;
    while (first[i]! < i && matrix[row + first[i]!] === 0) first[i]!++;
    for (let j = first[i]!; j <= i; j++) {
      const other = j * size;
      let sum = lower[row + j]!;
      for (let k = Math.max(first[i]!, first[j]!); k < j; k++) sum -= lower[row + k]! * lower[other + k]!;
      if (j < i) lower[row + j] = sum / lower[other + j]!;
      else if (sum > 0) lower[row + i] = Math.sqrt(sum);
      else throw new RangeError(`the matrix is not positive definite at row ${i}`);
    }
  }
  return { size, lower };
}

/** Solves L·x = b, in place. */
export function solveLower({ size, lower }: Cholesky, b: Float64Array): Float64Array {
  for (let i = 0; i < size; i++) {
    let sum = b[i]!;
    for (let k = 0; k < i; k++) sum -= lower[i * size + k]! * b[k]!;
    b[i] = sum / lower[i * size + i]!;
  }
  return b;
}

/** Solves Lᵀ·x = b, in place. */
export function solveUpper({ size, lower }: Cholesky, b: Float64Array): Float64Array {
  for (let i = size - 1; i >= 0; i--) {
    const x = b[i]! / lower[i * size + i]!;
    b[i] = x;
    for (let k = 0; k < i; k++) b[k]! -= lower[i * size + k]! * x;
  }
  return b;
}

/** Solves L·Lᵀ·x = b, in place. */
export const solve = (factor: Cholesky, b: Float64Array): Float64Array =>
  solveUpper(factor, solveLower(factor, b));
