export declare function prepareData(folder: string): void;
export declare function forgetData(folder: string): void;
