import { DataTypes } from 'sequelize';

// How columns are declared, the same in every model.

/** A text key of so many characters. */
export const key = (length = 64) => ({ type: DataTypes.STRING(length), primaryKey: true });
export const text = (length: number) => ({ type: DataTypes.STRING(length), allowNull: false });
/** A text that may be absent, and is where nothing is said. */
export const maybeText = (length: number) => ({ type: DataTypes.STRING(length), allowNull: true, defaultValue: null });
export const long = () => ({ type: DataTypes.TEXT('medium'), allowNull: false });
export const whole = () => ({ type: DataTypes.INTEGER.UNSIGNED, allowNull: false });
export const maybeWhole = () => ({ type: DataTypes.INTEGER.UNSIGNED, allowNull: true });
export const flag = () => ({ type: DataTypes.BOOLEAN, allowNull: false });
/** To the millisecond. */
export const time = () => ({ type: DataTypes.DATE(3), allowNull: false });
export const maybeTime = () => ({ type: DataTypes.DATE(3), allowNull: true });
/** A number that the database counts. */
export const counted = () => ({ type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true });
