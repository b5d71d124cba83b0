declare module 'jstat' {
  const jStat: {
    beta: { inv(p: number, a: number, b: number): number };
    normal: {
      inv(p: number, mean: number, deviation: number): number;
      cdf(x: number, mean: number, deviation: number): number;
    };
  };
  export default jStat;
}
