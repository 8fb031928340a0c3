/** What the tests use of the package that reads Data Packages; it has no types of its own. */
declare module 'datapackage' {
  interface ReadResource {
    name: string;
    tabular: boolean;
    read: (options: { keyed: true }) => Promise<Record<string, unknown>[]>;
  }
  const datapackage: {
    Package: {
      load: (descriptor: string, options: { basePath: string; strict: boolean }) => Promise<{ errors: Error[]; resources: ReadResource[] }>;
    };
  };
  export default datapackage;
}
