/* Style sheets stand for nothing here. */
export default {};
